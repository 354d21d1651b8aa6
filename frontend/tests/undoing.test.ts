import { beforeEach, describe, expect, it, vi } from 'vitest'
import { shallowRef } from 'vue'

import type { CaseDocument } from '../src/api/client'
import { useUndoing } from '../src/stores/case/undoing'

const input = (value: string) => ({ value, kind: 'length', unit: 'mm', label: '', note: '', lower: '', upper: '' })
const fresh = () =>
  ({
    title: 'pipe',
    inputs: { length: input('1 m') },
    section: { depth: '1 m', parts: [{ shape: { x: '0 m' } }] },
  }) as unknown as CaseDocument

describe('edits of a document', () => {
  let touched = 0
  beforeEach(() => {
    touched = 0
    vi.useFakeTimers()
  })
  const begin = () => {
    const document = shallowRef<CaseDocument | null>(fresh())
    return { document, ...useUndoing(document, () => touched++) }
  }

  it('are taken back and made again as a whole', () => {
    const { document, setInput, setText, undo, redo } = begin()
    setInput('length', '2 m')
    setText('section.depth', '3 m')
    undo()
    expect(document.value).toMatchObject({ inputs: { length: { value: '2 m' } }, section: { depth: '1 m' } })
    undo()
    expect(document.value).toEqual(fresh())
    redo()
    redo()
    expect(document.value?.section.depth).toBe('3 m')
    expect(touched).toBe(6)
  })

  it('of one field in one go are one step', () => {
    const { document, setInput, undo } = begin()
    for (const text of ['2', '2 ', '2 m', '2 mm']) setInput('length', text)
    undo()
    expect(document.value?.inputs.length?.value).toBe('1 m')
    setInput('length', '4 m')
    vi.advanceTimersByTime(2000)
    setInput('length', '5 m')
    undo()
    expect(document.value?.inputs.length?.value).toBe('4 m')
  })

  it('that change nothing are none', () => {
    const { undoStack, setInput, edit } = begin()
    setInput('length', '1 m')
    setInput('unknown', '1 m')
    edit('x', () => undefined)
    expect(undoStack.value).toEqual([])
    expect(touched).toBe(0)
  })

  it('make an input of a name that is typed with its value', () => {
    const { document, setText } = begin()
    setText('section.parts[0].shape.x', 'gap = 12')
    expect(document.value?.inputs.gap).toMatchObject({ value: '12 mm', kind: 'length' })
    expect(document.value?.section.parts[0]?.shape).toMatchObject({ x: 'gap' })
    // A name that is there already is used, not made anew.
    setText('section.depth', 'length = 7 m')
    expect(document.value?.inputs.length?.value).toBe('1 m')
    expect(document.value?.section.depth).toBe('length')
  })

  it('after an undo leave nothing to make again', () => {
    const { setInput, undo, redoStack } = begin()
    setInput('length', '2 m')
    undo()
    setInput('length', '3 m')
    expect(redoStack.value).toEqual([])
  })
})
