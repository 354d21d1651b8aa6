import { ref, type ShallowRef } from 'vue'

import type { CaseDocument } from '../../api/client'
import { withDefaultUnit } from '../../quantity/entry'
import { put } from './paths'

const UNDO_MOST = 200
const KEPT_MOST = 40
/** Edits of one field within this time are one step to undo. */
const ONE_EDIT = 1500

/** Edits of a document, with undo and redo through all of it; `touched` is called after each. */
export function useUndoing(document: ShallowRef<CaseDocument | null>, touched: () => void) {
  const undoStack = ref<string[]>([])
  const redoStack = ref<string[]>([])
  let last = { key: '', at: 0 }

  /** Change the document; `key` names the field, so that typing in it is one step to undo. */
  function edit(key: string, change: (draft: CaseDocument) => void): void {
    if (!document.value) return
    const before = JSON.stringify(document.value)
    const draft = JSON.parse(before) as CaseDocument
    change(draft)
    if (JSON.stringify(draft) === before) return
    const now = Date.now()
    if (key !== last.key || now - last.at > ONE_EDIT) undoStack.value = [...undoStack.value.slice(-UNDO_MOST), before]
    last = { key, at: now }
    redoStack.value = []
    document.value = draft
    touched()
  }

  function setInput(name: string, value: string): void {
    edit(`inputs.${name}`, (draft) => {
      const item = draft.inputs[name]
      if (item) item.value = value
    })
  }

  /**
   * Write text at a path of the document. `name = 12 mm` makes an input of that name and uses it there, so that a
   * dimension can be varied and sized.
   */
  function setText(path: string, text: string, kind = 'length', unit = 'mm'): void {
    const named = /^\s*([A-Za-z_]\w*)\s*=\s*(.+)$/.exec(text)
    edit(path, (draft) => {
      if (named && draft.inputs[named[1]!] === undefined) {
        draft.inputs[named[1]!] = { value: withDefaultUnit(named[2]!, unit), kind, unit, label: '', note: '', lower: '', upper: '' }
      }
      put(draft, path, named ? named[1]! : text)
    })
  }

  function swap(from: typeof undoStack, to: typeof undoStack): void {
    const next = from.value.at(-1)
    if (next === undefined || !document.value) return
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, JSON.stringify(document.value)]
    document.value = JSON.parse(next) as CaseDocument
    last = { key: '', at: 0 }
    touched()
  }

  /** A document that takes the place of this one, which can be taken back. */
  function replace(next: CaseDocument): void {
    undoStack.value = [...undoStack.value, JSON.stringify(document.value)]
    document.value = next
  }

  function forget(): void {
    undoStack.value = []
    redoStack.value = []
    last = { key: '', at: 0 }
  }

  /** Keep what can be undone over a reload of the page, by a name; as much as the browser takes. */
  function keep(name: string): void {
    for (const most of [KEPT_MOST, 4, 0]) {
      try {
        const kept = {
          document: JSON.stringify(document.value),
          undo: undoStack.value.slice(-most),
          redo: redoStack.value.slice(-most),
        }
        if (most) sessionStorage.setItem(name, JSON.stringify(kept))
        else sessionStorage.removeItem(name)
        return
      } catch {
        // The store is full: fewer steps are kept.
      }
    }
  }

  /** Bring back what was kept, if the document is the one it was kept with. */
  function recall(name: string): void {
    const text = sessionStorage.getItem(name)
    if (!text) return
    const kept = JSON.parse(text) as { document: string; undo: string[]; redo: string[] }
    if (kept.document !== JSON.stringify(document.value)) return
    undoStack.value = kept.undo
    redoStack.value = kept.redo
  }

  return {
    undoStack,
    redoStack,
    edit,
    setInput,
    setText,
    undo: () => swap(undoStack, redoStack),
    redo: () => swap(redoStack, undoStack),
    replace,
    forget,
    keep,
    recall,
  }
}
