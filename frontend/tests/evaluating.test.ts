// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { shallowRef } from 'vue'

import { api, type CaseDocument } from '../src/api/client'
import { useEvaluating } from '../src/stores/case/evaluating'

const titled = (title: string) => ({ title }) as CaseDocument
const turn = () => new Promise((resolve) => setTimeout(resolve))

describe('what the server says while one types', () => {
  const asked: string[] = []
  const waiting: (() => void)[] = []
  beforeEach(() => {
    setActivePinia(createPinia())
    vi.restoreAllMocks()
    asked.length = waiting.length = 0
    vi.spyOn(api, 'POST').mockImplementation(((_: string, { body }: { body: CaseDocument }) => {
      asked.push(body.title)
      const data = { about: body.title, sketch: { bare: body.title === 'half' }, lasts: null, problems: [] }
      return new Promise((resolve) => waiting.push(() => resolve({ data, response: { ok: true } })))
    }) as unknown as typeof api.POST)
  })
  const letGo = async () => {
    waiting.shift()?.()
    await turn()
  }

  it('is asked at once, then once more about the last of what was typed meanwhile', async () => {
    const document = shallowRef<CaseDocument | null>(titled('a'))
    const { evaluate, view } = useEvaluating(document)
    void evaluate()
    for (const title of ['b', 'c', 'd']) {
      document.value = titled(title)
      void evaluate()
    }
    expect(asked).toEqual(['a'])
    await letGo()
    expect(asked).toEqual(['a', 'd'])
    await letGo()
    expect(view.value).toMatchObject({ about: 'd' })
    expect(asked).toHaveLength(2)
  })

  it('keeps the last drawing while something cannot be drawn', async () => {
    const document = shallowRef<CaseDocument | null>(titled('whole'))
    const { evaluate, sketch } = useEvaluating(document)
    void evaluate()
    await letGo()
    document.value = titled('half')
    void evaluate()
    await letGo()
    expect(sketch.value).toEqual({ bare: false })
  })

  it('is not heard when it is about a case that was left', async () => {
    const document = shallowRef<CaseDocument | null>(titled('left'))
    const { evaluate, forget, view } = useEvaluating(document)
    void evaluate()
    forget()
    await letGo()
    expect(view.value).toBeNull()
  })
})
