import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take, type CaseDocument, type LedgerRow, type Schemas } from '../../api/client'
import { useElsewhere } from './elsewhere'
import { useEvaluating } from './evaluating'
import { deskLedger } from './ledger'
import { useRuns } from './runs'
import { useSaving } from './saving'
import { useUndoing } from './undoing'

export { inTime, isOver } from './runs'
export { stageOf } from './waiting'

/** The case on the desk: its document with undo, what is said of it while one types, saving, and its runs. */
export const useCase = defineStore('case', () => {
  const id = ref(0)
  const projectName = ref('')
  const projectId = ref(0)
  const document = shallowRef<CaseDocument | null>(null)
  const revision = ref(0)
  /** Boundaries that are chosen. */
  const picked = ref<string[]>([])
  const loadError = ref('')

  const undoing = useUndoing(document, touch)
  const evaluating = useEvaluating(document, () => runs.known())
  const saving = useSaving({ id, projectId, revision, document, replace: undoing.replace, evaluate: evaluating.evaluate })
  const runs = useRuns({ id, revision, document, changed: evaluating.changed, save: saving.save })
  const elsewhere = useElsewhere(id, revision, saving.hear)
  const { view } = evaluating

  // What a run that has just come is of, is asked at once; and again when it is over: a sizing ends with another case than it began.
  watch(
    () => runs.states(),
    (now) => now && void evaluating.evaluate(),
  )

  const undoKey = () => `wattikos.undo.${id.value}`

  function touch(): void {
    undoing.keep(undoKey())
    runs.runError.value = null
    saving.unsaved()
    void evaluating.evaluate()
  }

  /** An edit that reaches further than its own place, made by the server; what else it changed, in words. */
  async function reach(action: Schemas['EditBody']['action'], name: string, to = ''): Promise<string[]> {
    if (!document.value) return []
    const answer = await take(api.POST('/api/edit', { body: { document: document.value, action, name, to } }))
    undoing.edit(`${action} ${name} ${Date.now()}`, (draft) => Object.assign(draft, answer.document))
    return answer.also
  }

  async function open(caseId: number): Promise<void> {
    close()
    id.value = caseId
    loadError.value = ''
    try {
      const stored = await take(api.GET('/api/cases/{case}', { params: { path: { case: caseId } } }))
      document.value = stored.document
      revision.value = stored.revision
      projectName.value = stored.project_name
      projectId.value = stored.project
      undoing.recall(undoKey())
      const kept = saving.kept()
      if (kept) {
        undoing.replace(kept.document)
        revision.value = kept.revision
        touch()
      }
      await evaluating.evaluate()
      await runs.load()
      elsewhere.begin()
    } catch (error) {
      loadError.value = error instanceof Error ? error.message : String(error)
    }
  }

  function close(): void {
    elsewhere.end()
    saving.forget()
    evaluating.forget()
    runs.forget()
    undoing.forget()
    document.value = null
    picked.value = []
  }

  const ledger = computed<LedgerRow[]>(() =>
    deskLedger(view.value?.ledger ?? [], runs.solution.value?.ledger ?? [], runs.staleBecause.value.length === 0),
  )
  const problems = computed(() => view.value?.problems ?? [])
  const problemOf = (field: string) => problems.value.find((p) => p.field === field)

  return {
    id,
    projectName,
    projectId,
    document,
    revision,
    picked,
    loadError,
    view,
    sketch: evaluating.sketch,
    saveState: saving.saveState,
    saveError: saving.saveError,
    conflict: saving.conflict,
    newer: saving.newer,
    takeNewer: saving.takeNewer,
    save: saving.save,
    settle: saving.settle,
    undoStack: undoing.undoStack,
    redoStack: undoing.redoStack,
    edit: undoing.edit,
    setInput: undoing.setInput,
    setText: undoing.setText,
    reach,
    undo: undoing.undo,
    redo: undoing.redo,
    run: runs.run,
    sizing: runs.sizing,
    study: runs.study,
    history: runs.history,
    runError: runs.runError,
    start: runs.start,
    stop: runs.stop,
    changedSince: runs.changedSince,
    solution: runs.solution,
    staleBecause: runs.staleBecause,
    readable: runs.readable,
    canGoOn: runs.canGoOn,
    busy: runs.busy,
    ledger,
    problems,
    problemOf,
    open,
    close,
  }
})
