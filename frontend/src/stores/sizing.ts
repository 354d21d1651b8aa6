import { useDebounceFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, ApiError, take, type CaseDocument, type Problem, type Schemas } from '../api/client'
import type { Key } from '../quantity/keys'
import { useCase, isOver } from './case'

export type SizingWish = NonNullable<CaseDocument['sizing']>
export type ChosenWish = NonNullable<SizingWish['chosen']>[number]
export type Goal = NonNullable<SizingWish['goals']>[number]
export type Aim = NonNullable<SizingWish['aim']>
export type Spread = NonNullable<SizingWish['spreads']>[number]
export type Show = 'answer' | 'trials' | 'map' | 'front' | 'scatter'
type Chosen = Schemas['ChosenOut']

/** A trial as a run tells it: what was tried, and each quantity by hand and solved. */
export interface Trial {
  values: string[]
  place: number[]
  keys: Key[]
  hand: (number | null)[]
  solved: number[]
}
export interface Margin {
  key: Key
  name: string
  kind: string
  lower: number | null
  upper: number | null
  value: number
  plus_minus: number | null
  kept_by: number
  saves: number
  text: string
}
/** What a sizing came to. */
export interface Sizing {
  outcome: 'met' | 'unreachable' | 'stopped' | 'unsolved'
  text: string
  suggestions: string[]
  chosen: Chosen[]
  values: string[]
  quantities: { key: Key; name: string; kind: string }[]
  trials: Trial[]
  margins: Margin[]
  aim: Schemas['AimOut'] | null
  led: boolean
  curve: [number, number][]
  target: number | null
}

const NOTHING: SizingWish = { chosen: [], goals: [], aim: null, second: null, spreads: [], share: 0.95 }
/** An input that is chosen between its own bounds. */
export const betweenBounds = (input: string): ChosenWish => ({
  varied: [{ input, material_of: '', values: '' }],
  lower: '',
  upper: '',
})

export const nameOf = (varied: { input?: string; material_of?: string }): string =>
  varied.input || `material of ${varied.material_of}`

/** What is chosen, asked for and to be best; what it is by hand while one types; and what was found. */
export const useSizing = defineStore('sizing', () => {
  const theCase = useCase()
  /** Whether the stage is on the desk. */
  const open = ref(false)
  const show = ref<Show>('answer')
  const wish = computed<SizingWish>(() => theCase.document?.sizing ?? NOTHING)
  const run = computed(() => theCase.sizing)
  const running = computed(() => run.value !== null && !isOver(run.value))
  const found = computed(() => (run.value?.summary.sizing as Sizing | undefined) ?? null)
  const trials = computed<Trial[]>(() => (run.value?.trials as Trial[] | undefined) ?? [])

  const hand = shallowRef<Schemas['BestByHandOut'] | null>(null)
  const problems = shallowRef<Problem[]>([])
  const pending = ref(false)
  const map = shallowRef<Schemas['FeasibleOut'] | null>(null)
  const front = shallowRef<Schemas['FrontOut'] | null>(null)
  const scatter = shallowRef<Schemas['ScatterOut'] | null>(null)
  /** Which of what is chosen a map lies over. */
  const axes = ref<[number, number]>([0, 1])

  let asked = 0
  /** Ask something about the sizing; an answer that is overtaken is dropped. */
  async function ask<T>(what: (body: { document: CaseDocument; run: number | null }) => Promise<T>, into: (answer: T) => void) {
    const document = theCase.document
    if (!document) return
    const mine = ++asked
    pending.value = true
    try {
      const answer = await what({ document, run: run.value?.id ?? null })
      if (mine !== asked) return
      into(answer)
      problems.value = []
    } catch (error) {
      if (mine !== asked || (error instanceof ApiError && error.status === 409)) return
      problems.value = error instanceof ApiError ? error.problems : [{ field: '', problem: String(error), remedy: '' }]
    } finally {
      if (mine === asked) pending.value = false
    }
  }
  const numbers = computed(() => (wish.value.chosen ?? []).flatMap((one, i) => (one.varied[0]?.values ? [] : [i])))
  const looks = {
    answer: () =>
      ask(
        (body) => take(api.POST('/api/sizings/by-hand', { body })),
        (answer) => (hand.value = answer),
      ),
    map: () => {
      const [first, second] = axes.value.every((i) => numbers.value.includes(i)) ? axes.value : numbers.value
      if (first === undefined || second === undefined || first === second) return Promise.resolve()
      return ask(
        (body) => take(api.POST('/api/sizings/map', { body: { ...body, first, second } })),
        (answer) => (map.value = answer),
      )
    },
    front: () =>
      ask(
        (body) => take(api.POST('/api/sizings/front', { body })),
        (answer) => (front.value = answer),
      ),
    scatter: () =>
      ask(
        (body) => take(api.POST('/api/sizings/scatter', { body })),
        (answer) => (scatter.value = answer),
      ),
  }
  /** What is shown is reckoned anew when the case or its trials change; the front and what scatters when it is asked for. */
  const look = useDebounceFn(() => {
    if (!open.value || !wish.value.chosen?.length) return undefined
    if (show.value === 'map') return looks.map()
    return show.value === 'answer' || show.value === 'trials' ? looks.answer() : undefined
  }, 400)
  watch([() => theCase.view, open, show, axes, () => running.value], () => void look(), { immediate: true })
  watch(
    () => JSON.stringify([wish.value, theCase.document?.inputs]),
    () => (front.value = scatter.value = null),
  )
  watch(
    () => theCase.id,
    () => {
      hand.value = map.value = front.value = scatter.value = null
      problems.value = []
      show.value = 'answer'
    },
  )

  const titleOf = (varied: { input?: string; material_of?: string }) =>
    theCase.document?.inputs[varied.input ?? '']?.label || nameOf(varied)
  const edit = (what: string, change: (wish: SizingWish) => void) =>
    theCase.edit(`sizing.${what}`, (d) => {
      d.sizing ??= { ...NOTHING }
      change(d.sizing)
    })
  /** Whether the case has these values already. */
  const holds = (chosen: Chosen[], values: string[]): boolean =>
    chosen
      .flatMap((one) => one.varied)
      .every((one, i) => {
        const input = theCase.document?.inputs[one.input ?? '']
        const part = theCase.document?.section.parts.find((p) => p.name === one.material_of)
        return (input ? input.value : part?.material) === values[i]
      })
  /** Take values into the case: one step, which can be undone. */
  function takeInto(chosen: Chosen[], values: string[]): void {
    theCase.edit(`sizing.take ${Date.now()}`, (d) => {
      chosen
        .flatMap((one) => one.varied)
        .forEach((one, i) => {
          const input = d.inputs[one.input ?? '']
          const part = d.section.parts.find((p) => p.name === one.material_of)
          if (input) input.value = values[i]!
          else if (part) part.material = values[i]!
        })
    })
  }
  /** Make a series of points, row by row, to be solved under Vary. */
  function intoSeries(chosen: Chosen[], rows: string[][]): void {
    theCase.edit(`sizing.series ${Date.now()}`, (d) => {
      const varied = chosen.flatMap((one) => one.varied)
      d.series = {
        ...d.series,
        how: 'paired',
        varied: varied.map((one, i) => ({ ...one, values: rows.map((row) => row[i]!).join(', ') })),
      } as NonNullable<CaseDocument['series']>
    })
  }

  return {
    open,
    show,
    wish,
    run,
    running,
    found,
    trials,
    hand,
    problems,
    pending,
    map,
    front,
    scatter,
    axes,
    numbers,
    looks,
    edit,
    titleOf,
    holds,
    takeInto,
    intoSeries,
  }
})
