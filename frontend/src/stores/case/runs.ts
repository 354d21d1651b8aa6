import { useTimeoutFn } from '@vueuse/core'
import { computed, shallowRef, type Ref, type ShallowRef } from 'vue'

import { api, ApiError, take, type CaseDocument, type Run } from '../../api/client'

const POLL = 250

type Kind = 'solve' | 'sizing' | 'grid_study'

interface Solved {
  id: Ref<number>
  revision: Ref<number>
  document: ShallowRef<CaseDocument | null>
  /** For each run by its number: what the case has changed since, as the server says. */
  changed: Ref<Record<string, string[]>>
  save: () => Promise<boolean>
}

/** Whether a run is one in time. */
export function inTime(run: Run): boolean {
  return typeof run.summary.time === 'number'
}

/** Whether a run came to a solution: to its end, or in time as far as it was let. */
function hasSolution(run: Pick<Run, 'state' | 'summary'>): boolean {
  return run.state === 'done' || (run.state === 'stopped' && typeof run.summary.time === 'number')
}

/** Whether nothing will change any more. */
export function isOver(run: Run): boolean {
  return ['done', 'stopped', 'failed'].includes(run.state)
}

/** The runs of a case: the last solve and the last sizing, followed while they go on, and which of them is of the case as it stands. */
export function useRuns({ id, revision, document, changed, save }: Solved) {
  const run = shallowRef<Run | null>(null)
  /** The last solve that has a solution, while a newer one goes on or when that has failed. */
  const earlier = shallowRef<Run | null>(null)
  const sizing = shallowRef<Run | null>(null)
  const study = shallowRef<Run | null>(null)
  const targets = { solve: run, sizing, grid_study: study }
  const history = shallowRef<Record<string, unknown>[]>([])
  const runError = shallowRef<ApiError | null>(null)
  /** Runs that are read until they are over; what comes of another one is not heard. */
  let followed = new Map<Kind, number>()
  const poll = useTimeoutFn(() => void followAll(), POLL, { immediate: false })

  async function load(): Promise<void> {
    const lines = await take(api.GET('/api/cases/{case}/runs', { params: { path: { case: id.value } } }))
    for (const kind of ['solve', 'sizing', 'grid_study'] as const) {
      const line = lines.find((one) => one.kind === kind)
      if (line) await follow(line.id, kind)
    }
    const solved = lines.find((one) => one.kind === 'solve' && hasSolution(one))
    if (solved && run.value && solved.id !== run.value.id)
      earlier.value = await take(api.GET('/api/runs/{run}', { params: { path: { run: solved.id }, query: { since: 0 } } }))
  }

  /** Queue a run; `goOn` carries the last run in time on to the end the case has now. */
  async function start(kind: Kind, goOn = false): Promise<void> {
    runError.value = null
    if (!(await save())) return
    try {
      const body = { kind, revision: revision.value, warm: kind !== 'grid_study', go_on: goOn }
      const queued = await take(api.POST('/api/cases/{case}/runs', { params: { path: { case: id.value } }, body }))
      await follow(queued.id, kind)
    } catch (error) {
      if (error instanceof ApiError) runError.value = error
      else throw error
    }
  }

  /** Read a run, and go on reading it until it is over. */
  async function follow(runId: number, kind: Kind): Promise<void> {
    const target = targets[kind]
    const since = target.value?.id === runId ? history.value.length : 0
    followed.set(kind, runId)
    const mine = followed
    try {
      const params = { path: { run: runId }, query: { since: kind === 'solve' ? since : 0 } }
      const now = await take(api.GET('/api/runs/{run}', { params }))
      if (mine !== followed || followed.get(kind) !== runId) return
      if (kind === 'solve') {
        // A run that was queued again begins its history anew.
        const keep = since && now.steps >= since ? history.value.slice(0, since) : []
        history.value = [...keep, ...now.history]
      }
      const before = target.value
      if (kind === 'solve' && before && before.id !== runId && hasSolution(before)) earlier.value = before
      target.value = now
      if (isOver(now)) followed.delete(kind)
    } catch (error) {
      if (error instanceof ApiError && error.status === 404 && mine.get(kind) === runId) mine.delete(kind)
    }
    if (followed.size) poll.start()
  }

  async function followAll(): Promise<void> {
    for (const [kind, runId] of [...followed]) await follow(runId, kind)
  }

  async function stop(which: Run | null): Promise<void> {
    if (which) await take(api.POST('/api/runs/{run}/stop', { params: { path: { run: which.id } } }))
  }

  /** The names of what has changed between a run's case and the case as it stands. */
  const changedSince = (which: Run | null): string[] => (which && changed.value[which.id]) || []

  /** The newest finished solution: a solve, or the last field solve of a sizing when that is of the case as it stands. */
  const solution = computed<Run | null>(() => {
    const known = [run.value, earlier.value, sizing.value]
    const candidates = known.filter((r): r is Run => r !== null && hasSolution(r) && r.ledger.length > 0)
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
    const changed = changedSince(last).filter((what) => what !== 'times')
    return last.state === 'stopped'
      ? true
      : changed.length > 0 || JSON.stringify(last.document.time.end) !== JSON.stringify(document.value.time.end)
  })
  const busy = computed(() => [run.value, sizing.value, study.value].some((r) => r !== null && !isOver(r)))

  /** Which runs are known and where each of them stands, as text. */
  const all = () => [run.value, earlier.value, sizing.value, study.value].filter((r) => r !== null)
  const states = () =>
    all()
      .map((r) => `${r.id} ${r.state}`)
      .join()
  const known = () => all().map((r) => r.id)

  function forget(): void {
    poll.stop()
    followed = new Map()
    run.value = earlier.value = sizing.value = study.value = runError.value = null
    history.value = []
  }

  return {
    run,
    sizing,
    study,
    history,
    runError,
    load,
    start,
    stop,
    changedSince,
    solution,
    staleBecause,
    readable,
    canGoOn,
    busy,
    known,
    states,
    forget,
  }
}
