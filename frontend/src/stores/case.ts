import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'

import { api, ApiError, take, type CaseDocument, type CaseView, type LedgerRow, type Run, type Schemas } from '../api/client'
import { facing } from '../quantity/keys'
import { withDefaultUnit } from '../quantity/entry'
import { useUnits } from '../quantity/units'

const EVALUATE_AFTER = 90
const SAVE_AFTER = 700
const POLL = 250
const UNDO_MOST = 200
/** Edits of one field within this time are one step to undo. */
const ONE_EDIT = 1500

export type SaveState = 'saved' | 'unsaved' | 'saving' | 'conflict' | 'offline'

/** What a run depends on; titles, wishes and notes may change without making it stale. */
const SOLVED_PARTS = ['inputs', 'section', 'materials', 'physics', 'time', 'conditions', 'contacts', 'grid'] as const

/** Whether two values of a document are the same, in whatever order their fields stand. */
function alike(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b
  const [p, q] = [a as Record<string, unknown>, b as Record<string, unknown>]
  return [...new Set([...Object.keys(p), ...Object.keys(q)])].every((key) => alike(p[key], q[key]))
}

/** The case on the desk: its document, undo, saving, hand calculation, and its runs. */
export const useCase = defineStore('case', () => {
  const units = useUnits()
  const id = ref(0)
  const projectName = ref('')
  const projectId = ref(0)
  const document = shallowRef<CaseDocument | null>(null)
  const revision = ref(0)
  const view = shallowRef<CaseView | null>(null)
  const sketch = shallowRef<CaseView['sketch']>(null)
  const saveState = ref<SaveState>('saved')
  const saveError = ref('')
  const conflict = shallowRef<Schemas['ConflictOut'] | null>(null)
  const run = shallowRef<Run | null>(null)
  const sizing = shallowRef<Run | null>(null)
  const history = shallowRef<Record<string, unknown>[]>([])
  const runError = shallowRef<ApiError | null>(null)
  const picked = ref<string[]>([])
  const loadError = ref('')

  const undoStack = ref<string[]>([])
  const redoStack = ref<string[]>([])
  let lastEdit = { key: '', at: 0 }
  let evaluateTimer = 0
  let saveTimer = 0
  let pollTimer = 0
  let evaluation = 0

  const keptKey = () => `wattikos.unsaved.${id.value}`

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
      takeBackUnsaved()
      await evaluate()
      await loadRuns()
    } catch (error) {
      loadError.value = error instanceof Error ? error.message : String(error)
    }
  }

  function close(): void {
    if (saveState.value === 'unsaved') void save()
    for (const timer of [evaluateTimer, saveTimer, pollTimer]) window.clearTimeout(timer)
    document.value = view.value = sketch.value = run.value = sizing.value = conflict.value = runError.value = null
    history.value = []
    undoStack.value = []
    redoStack.value = []
    picked.value = []
    saveState.value = 'saved'
  }

  /** What a former visit could not save (server gone, browser closed) comes back as an edit. */
  function takeBackUnsaved(): void {
    const kept = localStorage.getItem(keptKey())
    if (!kept) return
    const before = JSON.parse(kept) as { revision: number; document: CaseDocument }
    if (JSON.stringify(before.document) === JSON.stringify(document.value)) {
      localStorage.removeItem(keptKey())
      return
    }
    undoStack.value = [JSON.stringify(document.value)]
    document.value = before.document
    revision.value = before.revision
    touch()
  }

  /** Change the document; `key` names the field, so that typing in it is one step to undo. */
  function edit(key: string, change: (draft: CaseDocument) => void): void {
    if (!document.value) return
    const before = JSON.stringify(document.value)
    const draft = JSON.parse(before) as CaseDocument
    change(draft)
    if (JSON.stringify(draft) === before) return
    const now = Date.now()
    if (key !== lastEdit.key || now - lastEdit.at > ONE_EDIT) {
      undoStack.value = [...undoStack.value.slice(-UNDO_MOST), before]
    }
    lastEdit = { key, at: now }
    redoStack.value = []
    document.value = draft
    touch()
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
      const steps = path.replaceAll(/\[(\d+)\]/g, '.$1').split('.')
      let at = draft as unknown as Record<string, unknown>
      for (const step of steps.slice(0, -1)) at = at[step] as Record<string, unknown>
      at[steps.at(-1)!] = named ? named[1]! : text
    })
  }

  function swap(from: typeof undoStack, to: typeof undoStack): void {
    const next = from.value.at(-1)
    if (next === undefined || !document.value) return
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, JSON.stringify(document.value)]
    document.value = JSON.parse(next) as CaseDocument
    lastEdit = { key: '', at: 0 }
    touch()
  }
  const undo = () => swap(undoStack, redoStack)
  const redo = () => swap(redoStack, undoStack)

  function touch(): void {
    runError.value = null
    saveState.value = saveState.value === 'conflict' ? 'conflict' : 'unsaved'
    localStorage.setItem(keptKey(), JSON.stringify({ revision: revision.value, document: document.value }))
    window.clearTimeout(evaluateTimer)
    evaluateTimer = window.setTimeout(() => void evaluate(), EVALUATE_AFTER)
    window.clearTimeout(saveTimer)
    saveTimer = window.setTimeout(() => void save(), SAVE_AFTER)
  }

  async function evaluate(): Promise<void> {
    if (!document.value) return
    const mine = ++evaluation
    try {
      const answer = await take(api.POST('/api/evaluate', { body: document.value as unknown as Record<string, unknown> }))
      if (mine !== evaluation) return
      view.value = answer
      units.fit('time', answer.lasts)
      // While something is being typed that cannot be drawn, the last drawing stays.
      if (answer.sketch && !(answer.sketch.bare && sketch.value)) sketch.value = answer.sketch
    } catch (error) {
      if (error instanceof ApiError && mine === evaluation && view.value) view.value = { ...view.value, problems: error.problems }
    }
  }

  async function save(): Promise<boolean> {
    window.clearTimeout(saveTimer)
    if (!document.value || saveState.value === 'conflict') return false
    if (saveState.value === 'saved') return true
    const sent = document.value
    saveState.value = 'saving'
    const { data, error, response } = await api
      .PUT('/api/cases/{case}', {
        params: { path: { case: id.value } },
        body: { revision: revision.value, document: sent as unknown as Record<string, unknown> },
      })
      .catch(() => ({ data: undefined, error: undefined, response: undefined }))
    if (!response) {
      saveState.value = 'offline'
      saveTimer = window.setTimeout(() => {
        saveState.value = 'unsaved'
        void save()
      }, 3000)
      return false
    }
    if (data) {
      revision.value = data.revision
      saveError.value = ''
      if (document.value === sent) {
        saveState.value = 'saved'
        localStorage.removeItem(keptKey())
        return true
      }
      saveState.value = 'unsaved'
      return save()
    }
    if (response.status === 409) {
      conflict.value = error as Schemas['ConflictOut']
      saveState.value = 'conflict'
    } else {
      saveError.value = ((error as { problems?: Schemas['ProblemOut'][] })?.problems ?? []).map((p) => `${p.field}: ${p.problem}; ${p.remedy}`).join('\n')
      saveState.value = 'unsaved'
    }
    return false
  }

  /** Two tabs have edited one case: take theirs, put mine on top, or keep mine as a copy. */
  async function settle(choice: 'theirs' | 'mine' | 'copy'): Promise<number | null> {
    const other = conflict.value
    if (!other || !document.value) return null
    let copy: number | null = null
    if (choice === 'copy') {
      const body = { document: document.value as unknown as Record<string, unknown>, title: `${document.value.title}, my copy` }
      copy = (await take(api.POST('/api/projects/{project}/cases', { params: { path: { project: projectId.value } }, body }))).id
    }
    revision.value = other.revision
    conflict.value = null
    if (choice === 'mine') {
      saveState.value = 'unsaved'
      await save()
    } else {
      undoStack.value = [...undoStack.value, JSON.stringify(document.value)]
      document.value = other.document
      saveState.value = 'saved'
      localStorage.removeItem(keptKey())
      await evaluate()
    }
    return copy
  }

  async function loadRuns(): Promise<void> {
    const lines = await take(api.GET('/api/cases/{case}/runs', { params: { path: { case: id.value } } }))
    const usable = (kind: string) => lines.find((line) => line.kind === kind)
    for (const kind of ['solve', 'sizing']) {
      const line = usable(kind)
      if (line) await follow(line.id, kind)
    }
  }

  /** Queue a run; `goOn` carries the last run in time on to the end the case has now. */
  async function start(kind: 'solve' | 'sizing', goOn = false): Promise<void> {
    runError.value = null
    if (!(await save())) return
    try {
      const body = { kind, revision: revision.value, warm: true, go_on: goOn }
      const queued = await take(api.POST('/api/cases/{case}/runs', { params: { path: { case: id.value } }, body }))
      await follow(queued.id, kind)
    } catch (error) {
      if (error instanceof ApiError) runError.value = error
      else throw error
    }
  }

  async function follow(runId: number, kind: string): Promise<void> {
    const target = kind === 'sizing' ? sizing : run
    const since = target.value?.id === runId ? history.value.length : 0
    try {
      const params = { path: { run: runId }, query: { since: kind === 'sizing' ? 0 : since } }
      const now = await take(api.GET('/api/runs/{run}', { params }))
      if (kind !== 'sizing') {
        // A run that was queued again begins its history anew.
        const keep = since && now.steps >= since ? history.value.slice(0, since) : []
        history.value = [...keep, ...now.history]
      }
      target.value = now
      if (isOver(now)) return
    } catch (error) {
      if (error instanceof ApiError && error.status === 404) return
    }
    pollTimer = window.setTimeout(() => {
      if (target.value?.id === runId) void follow(runId, kind)
    }, POLL)
  }

  async function stop(which: Run | null): Promise<void> {
    if (which) await take(api.POST('/api/runs/{run}/stop', { params: { path: { run: which.id } } }))
  }

  /** The names of what has changed between a run's case and the case as it stands. */
  function changedSince(which: Run | null): string[] {
    const now = document.value
    if (!which || !now) return []
    const changed: string[] = []
    for (const part of SOLVED_PARTS) {
      if (part === 'inputs') {
        const names = new Set([...Object.keys(which.document.inputs), ...Object.keys(now.inputs)])
        for (const name of names) {
          if (which.document.inputs[name]?.value !== now.inputs[name]?.value) changed.push(name)
        }
      } else if (part === 'time' && now.physics.regime !== 'time') {
        // How a case would run in time does not matter while it is steady.
      } else if (!alike(which.document[part], now[part])) {
        changed.push(part === 'section' ? 'drawing' : part)
      }
    }
    return changed
  }

  /** The newest finished solution: a solve, or the last field solve of a sizing when that is of the case as it stands. */
  const solution = computed<Run | null>(() => {
    const ended = (r: Run) => r.state === 'done' || (r.state === 'stopped' && inTime(r))
    const candidates = [run.value, sizing.value].filter((r): r is Run => r !== null && ended(r) && r.ledger.length > 0)
    const fresh = candidates.filter((r) => changedSince(r).length === 0)
    const pool = fresh.length ? fresh : candidates.filter((r) => r.kind === 'solve')
    return pool.sort((a, b) => b.id - a.id)[0] ?? candidates[0] ?? null
  })
  const staleBecause = computed(() => changedSince(solution.value))
  /** What can be read: a run in time that is still going, from its first frame on, or the solution. */
  const readable = computed<Run | null>(() => {
    const running = run.value
    if (running && !isOver(running) && running.frames.length > 0 && changedSince(running).length === 0) return running
    return staleBecause.value.length === 0 ? solution.value : null
  })
  /** Whether the last run in time can be carried on: it was stopped, or the case ends later now. */
  const canGoOn = computed(() => {
    const last = run.value
    if (!last || !isOver(last) || !inTime(last) || document.value?.physics.regime !== 'time') return false
    const changed = changedSince(last).filter((what) => what !== 'time')
    return last.state === 'stopped' ? true : changed.length > 0 || JSON.stringify(last.document.time.end) !== JSON.stringify(document.value.time.end)
  })

  /** The ledger on the desk: the live hand column beside the last solution. */
  const ledger = computed<LedgerRow[]>(() => {
    const [live, solved] = facing(view.value?.ledger ?? [], solution.value?.ledger ?? [])
    const fresh = staleBecause.value.length === 0
    const rows: LedgerRow[] = []
    for (const id of new Set([...live.keys(), ...solved.keys()])) {
      const a = live.get(id)
      const b = solved.get(id)
      // What the hand cannot calculate just now is blank, not the number of an earlier run.
      const row = { ...(b ?? a)!, ...(a ? { by_hand: a.by_hand, wanted: a.wanted, target: a.target, sense: a.sense } : { by_hand: null }) }
      if (!fresh) Object.assign(row, { agrees: null, verdict: '' })
      row.meets = reaches(row, fresh)
      rows.push(row)
    }
    return rows
  })

  const problems = computed(() => view.value?.problems ?? [])
  const problemOf = (field: string) => problems.value.find((p) => p.field === field)
  const busy = computed(() => [run.value, sizing.value].some((r) => r !== null && !isOver(r)))

  return {
    id,
    projectName,
    projectId,
    document,
    revision,
    view,
    sketch,
    saveState,
    saveError,
    conflict,
    run,
    sizing,
    history,
    runError,
    picked,
    loadError,
    undoStack,
    redoStack,
    solution,
    staleBecause,
    readable,
    canGoOn,
    ledger,
    problems,
    busy,
    open,
    close,
    edit,
    setInput,
    setText,
    undo,
    redo,
    save,
    settle,
    start,
    stop,
    problemOf,
    changedSince,
  }
})

/** Whether the best value that belongs to the case as it stands reaches its target, a thousandth aside; as in the core. */
function reaches(row: LedgerRow, fresh: boolean): boolean | null {
  const value = fresh && row.solved !== null ? row.solved : (row.by_hand?.value ?? null)
  if (row.target === null || value === null) return null
  const slack = 1e-3 * Math.abs(row.target)
  return row.sense === 'at_most' ? value <= row.target + slack : value >= row.target - slack
}

/** Whether a run is one in time. */
export function inTime(run: Run): boolean {
  return typeof run.summary.time === 'number'
}

/** Whether nothing will change any more. */
export function isOver(run: Run): boolean {
  return ['done', 'stopped', 'failed'].includes(run.state)
}
