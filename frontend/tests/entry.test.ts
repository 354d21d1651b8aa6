import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import type { CaseDocument, Condition } from '../src/api/client'
import { withDefaultUnit } from '../src/quantity/entry'
import { plain, useUnits } from '../src/quantity/units'
import { giveCondition } from '../src/stages/conditions/give'

describe('what is typed', () => {
  it('gives a bare number the unit its field had, and nothing else', () => {
    expect(withDefaultUnit('700', 'mm')).toBe('700 mm')
    expect(withDefaultUnit(' 1.5e-3 ', 'm')).toBe('1.5e-3 m')
    for (const text of ['700 in', '2*gap', '', '7 0', 'gap']) expect(withDefaultUnit(text, 'mm')).toBe(text)
    expect(withDefaultUnit('1', '')).toBe('1')
  })
})

describe('numbers as people read them', () => {
  it('keeps so many digits', () => {
    expect(plain(981.93, 4)).toBe('981.9')
    expect(plain(0.771462, 4)).toBe('0.7715')
    expect(plain(0, 4)).toBe('0')
    expect(plain(1084.4, 4)).toBe('1084')
    expect(plain(0.00037, 2)).toBe('0.00037')
    expect(plain(2.8e-12, 2)).toBe('2.8e-12')
    expect(plain(-5.25e7, 4)).toBe('-5.25e7')
  })
})

describe('units', () => {
  beforeEach(() => {
    const kept = new Map<string, string>()
    vi.stubGlobal('localStorage', {
      getItem: (k: string) => kept.get(k) ?? null,
      setItem: (k: string, v: string) => kept.set(k, v),
    })
    setActivePinia(createPinia())
  })

  function units(): ReturnType<typeof useUnits> {
    const store = useUnits()
    const kelvin = { unit: 'K', label: 'K', factor: 1, offset: 0 }
    const celsius = { unit: 'degC', label: '°C', factor: 1, offset: 273.15 }
    const fahrenheit = { unit: 'degF', label: '°F', factor: 5 / 9, offset: 459.67 }
    store.catalogue = {
      kinds: [{ name: 'temperature', label: 'temperature', unit: 'degC', units: [celsius, kelvin, fahrenheit] }],
      materials: [],
      boundaries: [],
      internals: [],
      starters: [],
      relations: [],
    }
    return store
  }

  it('shows Celsius by default and others in turn', () => {
    const store = units()
    expect(store.withUnit(300, 'temperature', 5)).toBe('26.850 °C')
    store.nextUnit('temperature')
    expect(store.withUnit(300, 'temperature', 5)).toBe('300.00 K')
    store.nextUnit('temperature')
    expect(store.shown(373.15, 'temperature')).toBeCloseTo(212, 8)
    store.nextUnit('temperature')
    expect(store.label('temperature')).toBe('°C')
  })

  it('converts differences without the offset', () => {
    const store = units()
    expect(store.shownDifference(5, 'temperature')).toBe(5)
    store.nextUnit('temperature')
    store.nextUnit('temperature')
    expect(store.shownDifference(5, 'temperature')).toBeCloseTo(9, 10)
  })

  it('shows nothing for what is not known', () => {
    const store = units()
    for (const value of [null, undefined, NaN, Infinity]) expect(store.withUnit(value, 'temperature')).toBe('')
  })
})

describe('giving a condition to boundaries', () => {
  const symmetry = (boundaries: string[]): Condition => ({ type: 'symmetry', boundaries, present: '1' })
  const adiabatic = (boundaries: string[]): Condition => ({
    type: 'wall',
    boundaries,
    present: '1',
    thermal: 'adiabatic',
    temperature: '',
    heat_flux: '',
    heat_rate: '',
    heat_transfer_coefficient: '',
    ambient_temperature: '',
    emissivity: '',
    surroundings_temperature: '',
    absorbed: '',
    coating_thickness: '',
    coating_material: '',
    roughness: '',
    slide_x: '',
    slide_y: '',
    angular_velocity: '',
    centre: [],
  })
  const document = (...conditions: Condition[]) => ({ conditions }) as unknown as CaseDocument

  it('replaces in place where the boundaries are the same', () => {
    const d = document(symmetry(['a', 'b']), adiabatic(['c']))
    giveCondition(d, ['a', 'b'], adiabatic([]))
    expect(d.conditions).toEqual([adiabatic(['a', 'b']), adiabatic(['c'])])
  })

  it('takes single boundaries out of what they shared', () => {
    const d = document(symmetry(['a', 'b', 'c']))
    giveCondition(d, ['b'], adiabatic([]))
    expect(d.conditions).toEqual([symmetry(['a', 'c']), adiabatic(['b'])])
  })

  it('joins boundaries of several conditions under one', () => {
    const d = document(symmetry(['a']), adiabatic(['b']), adiabatic(['c']))
    giveCondition(d, ['a', 'b'], symmetry([]))
    expect(d.conditions).toEqual([symmetry(['a', 'b']), adiabatic(['c'])])
  })

  it('leaves a condition alone that an input has switched off', () => {
    const on = { ...symmetry(['a']), present: 'counterflow' }
    const off = { ...adiabatic(['a']), present: '1 - counterflow' }
    const d = document(on, off)
    giveCondition(d, ['a'], { ...on, type: 'symmetry' }, 0)
    expect(d.conditions).toEqual([on, off])
  })

  it('begins a condition on boundaries that had none', () => {
    const d = document()
    giveCondition(d, ['x'], symmetry([]))
    expect(d.conditions).toEqual([symmetry(['x'])])
  })
})
