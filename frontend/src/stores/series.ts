import { useDebounceFn, useTimeoutFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, ApiError, take, type CaseDocument, type Problem, type Schemas } from '../api/client'
import { idOf } from '../quantity/keys'
import { useUnits } from '../quantity/units'
import { useCase } from './case'

export type SeriesOut = Schemas['SeriesOut']
export type SeriesPoint = SeriesOut['points'][number]
export type SeriesLine = Schemas['SeriesLineOut']
export type Wish = NonNullable<CaseDocument['series']>
export type Varied = NonNullable<Wish['varied']>[number]
export type Show = 'curves' | 'map' | 'parallel' | 'table' | 'answers' | 'profiles' | 'courses' | 'film'

/** More points than these are reckoned by hand when it is asked for. */
const AT_ONCE = 400
/** How often a series is read while it is being solved, ms. */
const POLL = 700
const EACH = 5
/** Runs that can be compared at a time. */
export const MOST_COMPARED = 6

/** What is varied: the points of the case's series by hand, or a series that is solved. */
export const useSeries = defineStore('series', () => {
  const theCase = useCase()
  const units = useUnits()
  const list = shallowRef<SeriesLine[]>([])
  /** The stored series that is shown; by hand, of the case as it stands, when 0. */
  const chosen = ref(0)
  const hand = shallowRef<SeriesOut | null>(null)
  const stored = shallowRef<SeriesOut | null>(null)
  const problems = shallowRef<Problem[]>([])
  const pending = ref(false)
  /** Whether the stage is on the desk. */
  const open = ref(false)
  const show = ref<Show>('curves')
  const wish = computed<Wish>(
    () => theCase.document?.series ?? { varied: [], how: 'all', count: 20, seed: 1, keys: [], grid_check: false },
  )
  const shown = computed(() => (chosen.value ? stored.value : hand.value))

  /** The input that curves are along, by its place: the first that is a number until one is chosen. */
  const chosenAlong = ref(-1)
  const along = computed({
    get: () => {
      const varied = shown.value?.varied ?? []
      return chosenAlong.value >= 0 && chosenAlong.value < varied.length
        ? chosenAlong.value
        : Math.max(
            varied.findIndex((one) => one.kind),
            0,
          )
    },
    set: (place) => (chosenAlong.value = place),
  })
  const unitOfVaried = (i: number) => {
    const one = shown.value?.varied[i]
    return one?.kind ? units.kinds.get(one.kind)?.units.find((u) => u.unit === one.unit) : undefined
  }
  /** A place along an input in the unit it is entered in; of materials their number. */
  const placeShown = (i: number, place: number) => {
    const unit = unitOfVaried(i)
    return unit ? place / unit.factor - unit.offset : place
  }
  const placeOfShown = (i: number, value: number) => {
    const unit = unitOfVaried(i)
    return unit ? (value + unit.offset) * unit.factor : value
  }
  const titleOfVaried = (i: number) => {
    const one = shown.value?.varied[i]
    if (!one) return ''
    return one.kind ? [one.label, unitOfVaried(i)?.label].filter(Boolean).join(', ') : `${one.label}: in the order of the entry`
  }
  // Quantities that are read.
  const picks = ref<string[]>([])
  const quantities = computed(() => shown.value?.quantities ?? [])
  const wanted = computed(() => (theCase.document?.wanted ?? []).map((w) => idOf(w.key as Schemas['Key'])))
  const read = computed(() => {
    const known = (id: string) => quantities.value.some((q) => idOf(q.key) === id)
    const chosen = picks.value.filter(known)
    if (chosen.length) return chosen
    const first = wanted.value.find(known) ?? (quantities.value[0] && idOf(quantities.value[0].key))
    return first ? [first] : []
  })
  const placeOf = (id: string) => quantities.value.findIndex((q) => idOf(q.key) === id)
  /** A quantity at a point: solved where it is, else by hand. */
  const best = (point: SeriesPoint, q: number) => point.solved?.[q] ?? point.hand[q] ?? null

  /** The point that was clicked, and those that are ticked to be compared, by number. */
  const picked = ref<number | null>(null)
  const ticked = ref<number[]>([])
  const pickedPoint = computed(() => shown.value?.points.find((p) => p.number === picked.value) ?? null)
  watch([chosen, () => shown.value?.points.length], () => {
    picked.value = null
    ticked.value = []
  })

  let asked = 0
  async function reckon(all = false): Promise<void> {
    const document = theCase.document
    const mine = ++asked
    if (!document || !wish.value.varied?.length) {
      hand.value = null
      problems.value = []
      return
    }
    pending.value = true
    try {
      const ask = (hand: boolean) => take(api.POST('/api/series/by-hand', { body: { document, case: theCase.id || null, hand } }))
      let answer = await ask(false)
      if (mine === asked && (all || answer.points.length <= AT_ONCE)) answer = await ask(true)
      if (mine !== asked) return
      hand.value = answer
      problems.value = []
    } catch (error) {
      if (mine !== asked || (error instanceof ApiError && error.status === 409)) return
      problems.value = error instanceof ApiError ? error.problems : [{ field: '', problem: String(error), remedy: '' }]
    } finally {
      if (mine === asked) pending.value = false
    }
  }
  const later = useDebounceFn(() => (open.value ? reckon() : undefined), 250)
  watch([() => theCase.view, open], () => void later(), { immediate: true })

  // Stored series.
  /** Long series are read less often: each time all that is found of them comes. */
  const pace = computed(() => POLL + EACH * (stored.value?.points.length ?? 0))
  const poll = useTimeoutFn(() => void follow(), pace, { immediate: false })
  let first = true
  async function load(): Promise<void> {
    const mine = theCase.id
    if (!mine) return
    const found = await take(api.GET('/api/cases/{case}/series', { params: { path: { case: mine } } })).catch(() => [])
    if (mine !== theCase.id) return
    list.value = found
    // What was solved last is shown first.
    if (first && found[0]) chosen.value = found[0].id
    first = false
  }
  async function follow(): Promise<void> {
    const id = chosen.value
    poll.stop()
    if (!id) return
    try {
      const now = await take(api.GET('/api/series/{series}', { params: { path: { series: id } } }))
      if (id !== chosen.value) return
      stored.value = now
      if (now.state === 'running' && open.value) poll.start()
      else void load()
    } catch (error) {
      if (error instanceof ApiError && error.status === 404 && id === chosen.value) chosen.value = 0
      else if (open.value) poll.start()
    }
  }
  watch([chosen, open], () => {
    if (!chosen.value) stored.value = null
    if (open.value) void follow()
  })
  watch([() => theCase.id, open], () => void load(), { immediate: true })
  watch(
    () => theCase.id,
    () => {
      chosen.value = 0
      first = true
      hand.value = null
      picks.value = []
    },
  )

  async function begin(): Promise<void> {
    problems.value = []
    if (!(await theCase.save())) return
    try {
      const params = { path: { case: theCase.id } }
      const begun = await take(api.POST('/api/cases/{case}/series', { params, body: { name: '', revision: theCase.revision } }))
      stored.value = begun
      chosen.value = begun.id ?? 0
      await load()
    } catch (error) {
      if (error instanceof ApiError) problems.value = error.problems
      else throw error
    }
  }
  async function act(what: 'hold' | 'stop' | 'go-on' | 'retry'): Promise<void> {
    if (!chosen.value) return
    const params = { path: { series: chosen.value } }
    const calls = {
      hold: () => api.POST('/api/series/{series}/hold', { params }),
      stop: () => api.POST('/api/series/{series}/stop', { params }),
      'go-on': () => api.POST('/api/series/{series}/go-on', { params }),
      retry: () => api.POST('/api/series/{series}/retry', { params }),
    }
    stored.value = await take(calls[what]())
    poll.start()
  }
  /** Add the points of the case as it stands to the series that is shown. */
  async function addPoints(): Promise<void> {
    if (!chosen.value || !hand.value) return
    try {
      const points = hand.value.points.map((p) => p.values)
      stored.value = await take(
        api.POST('/api/series/{series}/points', {
          params: { path: { series: chosen.value } },
          body: { varied: (hand.value.varied ?? []).map((one) => one.name), points },
        }),
      )
      poll.start()
    } catch (error) {
      if (error instanceof ApiError) problems.value = error.problems
    }
  }
  async function discard(): Promise<void> {
    if (!chosen.value) return
    await take(api.DELETE('/api/series/{series}', { params: { path: { series: chosen.value } } }))
    chosen.value = 0
    await load()
  }

  const edit = (what: string, change: (wish: Wish) => void) =>
    theCase.edit(`series.${what}`, (d) => {
      d.series ??= { varied: [], how: 'all', count: 20, seed: 1, keys: [], grid_check: false }
      change(d.series)
    })

  /** Take what a point varies into the case: one step, which can be undone. */
  function takeInto(point: SeriesPoint): void {
    const varied = shown.value?.varied ?? []
    theCase.edit(`series.take ${Date.now()}`, (d) => {
      varied.forEach((one, i) => {
        const value = point.values[i]!
        const input = d.inputs[one.name]
        if (input) input.value = value
        const part = d.section.parts.find((p) => `material of ${p.name}` === one.name)
        if (!input && part) part.material = value
      })
    })
  }

  return {
    list,
    chosen,
    hand,
    stored,
    problems,
    pending,
    open,
    show,
    wish,
    shown,
    along,
    placeShown,
    placeOfShown,
    titleOfVaried,
    picks,
    quantities,
    read,
    placeOf,
    best,
    picked,
    pickedPoint,
    ticked,
    reckon,
    begin,
    act,
    addPoints,
    discard,
    edit,
    takeInto,
  }
})
