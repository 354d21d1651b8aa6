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
    vi.spyOn(api, 'POST').mockImplementation(((
      _: string,
      { body, signal }: { body: { document: CaseDocument }; signal: AbortSignal },
    ) => {
      const { title } = body.document
      asked.push(title)
      const data = {
        about: title,
        sketch: { bare: title === 'half', boundaries: [] },
        lasts: null,
        problems: [],
        changed: { 3: ['length'] },
      }
      return new Promise((resolve, reject) => {
        signal.addEventListener('abort', () => reject(new Error('aborted')))
        waiting.push(() => resolve({ data, response: { ok: true } }))
      })
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

  it('is dropped when it takes long and something else was typed since', async () => {
    vi.useFakeTimers()
    const document = shallowRef<CaseDocument | null>(titled('slow'))
    const { evaluate, view, changed } = useEvaluating(document)
    void evaluate()
    await vi.advanceTimersByTimeAsync(5000)
    document.value = titled('next')
    void evaluate()
    await vi.advanceTimersByTimeAsync(1000)
    expect(asked).toEqual(['slow', 'next'])
    waiting.pop()!()
    await vi.advanceTimersByTimeAsync(10)
    expect([view.value, changed.value]).toMatchObject([{ about: 'next' }, { 3: ['length'] }])
    vi.useRealTimers()
  })

  it('keeps the last drawing while something cannot be drawn', async () => {
    const document = shallowRef<CaseDocument | null>(titled('whole'))
    const { evaluate, sketch } = useEvaluating(document)
    void evaluate()
    await letGo()
    document.value = titled('half')
    void evaluate()
    await letGo()
    expect(sketch.value).toEqual({ bare: false, boundaries: [] })
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
