// @vitest-environment happy-dom
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import { vuetify } from '../src/design/vuetify'
import QuantityField from '../src/quantity/QuantityField.vue'

const field = (props: object) => mount(QuantityField, { props, attrs: { 'aria-label': 'gap' }, global: { plugins: [vuetify] } })

describe('the field for a number with a unit', () => {
  it('gives a bare number its unit at every key while it is live', async () => {
    const it = field({ value: '2 mm', unit: 'mm', live: true })
    await it.get('input').setValue('3')
    expect(it.emitted('enter')).toEqual([['3 mm']])
    // What is typed stays as it is typed.
    expect(it.get('input').element.value).toBe('3')
    await it.get('input').trigger('blur')
    expect(it.emitted('enter')).toHaveLength(1)
  })

  it('takes a name with its value when the entry is finished', async () => {
    const it = field({ value: '2 mm', unit: 'mm', live: true })
    await it.get('input').setValue('gap = 3')
    expect(it.emitted('enter')).toBeUndefined()
    await it.get('input').trigger('blur')
    expect(it.emitted('enter')).toEqual([['gap = 3']])
  })

  it('waits for the end of the entry where it is not live', async () => {
    const it = field({ value: '', unit: 's' })
    await it.get('input').setValue('5')
    expect(it.emitted('enter')).toBeUndefined()
    await it.get('input').trigger('blur')
    expect(it.emitted('enter')).toEqual([['5 s']])
  })

  it('says what is wrong where assistive technology finds it', () => {
    const it = field({ value: 'x', problem: { field: 'gap', problem: "there is no 'x'", remedy: 'make it an input' } })
    const described = it.get('input').attributes('aria-describedby')
    expect(described).toBeTruthy()
    expect(it.get(`[id="${described}"]`).text()).toBe("there is no 'x'; make it an input")
  })
})
