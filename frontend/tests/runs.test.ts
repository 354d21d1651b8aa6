// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ref, shallowRef } from 'vue'

import { api, type CaseDocument, type Run } from '../src/api/client'
import { useRuns } from '../src/stores/case/runs'

const run = (id: number, state: string, steps = 0) =>
  ({ id, state, kind: 'solve', steps, history: [], ledger: [{}], frames: [], summary: {}, document: {} }) as unknown as Run

describe('the runs of a case', () => {
  const asked: number[] = []
  const waiting: (() => void)[] = []
  let states: Record<number, string> = {}
  beforeEach(() => {
    vi.restoreAllMocks()
    vi.useFakeTimers()
    asked.length = waiting.length = 0
    states = { 1: 'running', 2: 'running' }
    let next = 1
    vi.spyOn(api, 'POST').mockImplementation((() =>
      Promise.resolve({ data: { id: next++ }, response: { ok: true } })) as unknown as typeof api.POST)
    vi.spyOn(api, 'GET').mockImplementation(((_: string, { params }: { params: { path: { run: number } } }) => {
      const id = params.path.run
      asked.push(id)
      return new Promise((resolve) => waiting.push(() => resolve({ data: run(id, states[id]!), response: { ok: true } })))
    }) as unknown as typeof api.GET)
  })
  const letGo = async () => {
    await vi.advanceTimersByTimeAsync(0)
    waiting.shift()?.()
    await vi.advanceTimersByTimeAsync(300)
  }
  const begin = () =>
    useRuns({
      id: ref(7),
      revision: ref(1),
      document: shallowRef<CaseDocument | null>(null),
      changed: ref({}),
      save: () => Promise.resolve(true),
    })

  it('are read until they are over', async () => {
    const { start, run: last } = begin()
    void start('solve')
    await letGo()
    expect(last.value?.state).toBe('running')
    states[1] = 'done'
    await letGo()
    expect(last.value?.state).toBe('done')
    await vi.advanceTimersByTimeAsync(2000)
    expect(asked).toEqual([1, 1])
  })

  it('are not heard of when the case has been left', async () => {
    const { start, forget, run: last } = begin()
    void start('solve')
    await vi.advanceTimersByTimeAsync(0)
    forget()
    await letGo()
    await vi.advanceTimersByTimeAsync(2000)
    expect([last.value, asked]).toEqual([null, [1]])
  })

  it('give way to the next one of their kind', async () => {
    const { start, run: last } = begin()
    void start('solve')
    await vi.advanceTimersByTimeAsync(0)
    void start('solve')
    await letGo()
    expect(last.value).toBeNull()
    await letGo()
    expect(last.value?.id).toBe(2)
  })

  it('keep the solution there is while the next one goes on, and when that fails', async () => {
    const { start, solution } = begin()
    states = { 1: 'done', 2: 'running' }
    void start('solve')
    await letGo()
    expect(solution.value?.id).toBe(1)
    void start('solve')
    await letGo()
    expect(solution.value?.id).toBe(1)
    states[2] = 'failed'
    await letGo()
    expect(solution.value?.id).toBe(1)
  })

  it('have theirs again where the newest has failed when a case is opened', async () => {
    const { load, run: last, solution, known } = begin()
    states = { 1: 'done', 2: 'failed' }
    const read = vi.mocked(api.GET).getMockImplementation()!
    vi.mocked(api.GET).mockImplementation(((path: string, more: never) =>
      path.includes('/cases/')
        ? Promise.resolve({ data: [run(2, 'failed'), run(1, 'done')], response: { ok: true } })
        : (read as (path: string, more: never) => unknown)(path, more)) as unknown as typeof api.GET)
    void load()
    await letGo()
    await letGo()
    expect([last.value?.id, solution.value?.id]).toEqual([2, 1])
    expect(known()).toEqual([2, 1])
  })
})
