// @vitest-environment happy-dom
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { ref, shallowRef } from 'vue'

import { api, type CaseDocument } from '../src/api/client'
import { useSaving } from '../src/stores/case/saving'

const titled = (title: string) => ({ title }) as CaseDocument

/** Answers of the server, one after the other; each waits until it is let go. */
function server(...answers: object[]) {
  const sent: unknown[] = []
  const waiting: (() => void)[] = []
  vi.spyOn(api, 'PUT').mockImplementation(((_: string, { body }: { body: unknown }) => {
    sent.push(body)
    const answer = answers[sent.length - 1] ?? {}
    return new Promise((resolve) => waiting.push(() => resolve(answer)))
  }) as unknown as typeof api.PUT)
  return { sent, letGo: () => waiting.shift()?.() }
}
const stored = (revision: number) => ({ data: { revision }, response: { status: 200 } })

describe('saving', () => {
  beforeEach(() => {
    localStorage.clear()
    vi.restoreAllMocks()
    vi.useFakeTimers()
  })
  const begin = () => {
    const document = shallowRef<CaseDocument | null>(titled('first'))
    const revision = ref(1)
    const replace = vi.fn((next: CaseDocument) => (document.value = next))
    const saving = useSaving({ id: ref(7), projectId: ref(1), revision, document, replace, evaluate: () => Promise.resolve() })
    const type = (title: string) => {
      document.value = titled(title)
      saving.unsaved()
    }
    return { document, revision, replace, type, ...saving }
  }

  it('follows an entry by itself, and keeps it in the browser until then', async () => {
    const { sent, letGo } = server(stored(2))
    const { type, saveState, revision, kept } = begin()
    type('second')
    expect(saveState.value).toBe('unsaved')
    expect(localStorage.getItem('wattikos.unsaved.7')).toContain('second')
    await vi.advanceTimersByTimeAsync(800)
    letGo()
    await vi.runAllTimersAsync()
    expect(sent).toEqual([{ revision: 1, document: titled('second') }])
    expect([saveState.value, revision.value, kept()]).toEqual(['saved', 2, null])
  })

  it('sends what was typed while it was saving after it, with the new revision', async () => {
    const { sent, letGo } = server(stored(2), stored(3))
    const { type, save, saveState } = begin()
    type('second')
    const done = save()
    type('third')
    letGo()
    await vi.advanceTimersByTimeAsync(0)
    letGo()
    expect(await done).toBe(true)
    expect(sent).toEqual([
      { revision: 1, document: titled('second') },
      { revision: 2, document: titled('third') },
    ])
    expect(saveState.value).toBe('saved')
  })

  it('has one request on its way, whoever asks', async () => {
    const { sent, letGo } = server(stored(2), stored(3))
    const { type, save } = begin()
    type('second')
    const first = save()
    type('third')
    const second = save()
    await vi.advanceTimersByTimeAsync(2000)
    expect(sent).toHaveLength(1)
    letGo()
    await vi.advanceTimersByTimeAsync(0)
    expect(sent).toEqual([
      { revision: 1, document: titled('second') },
      { revision: 2, document: titled('third') },
    ])
    letGo()
    expect(await Promise.all([first, second])).toEqual([true, true])
    expect(sent).toHaveLength(2)
  })

  it('goes on behind a case that is left, and tells the next one nothing', async () => {
    const { letGo } = server(stored(2))
    const { type, forget, saveState, revision } = begin()
    type('second')
    forget()
    letGo()
    await vi.advanceTimersByTimeAsync(0)
    expect([saveState.value, revision.value, localStorage.getItem('wattikos.unsaved.7')]).toEqual(['saved', 1, null])
  })

  it('says so when the case was saved elsewhere, and lets nothing go', async () => {
    const theirs = { problems: [], revision: 5, document: titled('theirs') }
    const { letGo } = server({ error: theirs, response: { status: 409 } }, stored(6))
    const { type, save, settle, saveState, document, replace } = begin()
    type('mine')
    const first = save()
    letGo()
    expect(await first).toBe(false)
    expect(saveState.value).toBe('conflict')
    expect(await save()).toBe(false)
    await settle('theirs')
    expect(replace).toHaveBeenCalledWith(titled('theirs'))
    expect([document.value?.title, saveState.value]).toEqual(['theirs', 'saved'])
  })

  it('tries again when the server is gone', async () => {
    const put = vi.spyOn(api, 'PUT').mockRejectedValue(new TypeError('gone'))
    const { type, save, saveState } = begin()
    type('second')
    expect(await save()).toBe(false)
    expect(saveState.value).toBe('offline')
    await vi.advanceTimersByTimeAsync(3100)
    expect(put).toHaveBeenCalledTimes(2)
  })

  it('brings back what a former visit could not save', () => {
    begin().type('not sent')
    const next = begin()
    expect(next.kept()?.document.title).toBe('not sent')
    localStorage.setItem('wattikos.unsaved.7', JSON.stringify({ revision: 1, document: titled('first') }))
    expect(next.kept()).toBeNull()
    expect(localStorage.getItem('wattikos.unsaved.7')).toBeNull()
  })
})
