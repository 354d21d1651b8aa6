import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, ApiError, take, type Schemas } from '../api/client'
import { bytes } from '../sketch/raster'
import { useCase } from './case'
import type { ReadLine } from './look'
import { useReading } from './reading'
import { readingOf } from './wishes'

export type Along = ReadLine['along']
export type Statistics = Schemas['StatisticsOut']

/** One profile along a line, decoded. */
export interface Profile {
  name: string
  length: number
  area: number
  massFlow: number | null
  along: Float32Array
  x: Float32Array
  y: Float32Array
  fields: Map<string, { kind: string; values: Float32Array; statistics: Statistics }>
}

export interface LineAt {
  frame: number | null
  time: number | null
  profiles: Profile[]
}

export function readLineAt(data: Schemas['LineAtOut']): LineAt {
  const floats = (text: string) => new Float32Array(bytes(text))
  return {
    frame: data.frame,
    time: data.time,
    profiles: data.profiles.map((p) => ({
      name: p.name,
      length: p.length,
      area: p.area,
      massFlow: p.mass_flow,
      along: floats(p.along),
      x: floats(p.x),
      y: floats(p.y),
      fields: new Map(p.fields.map((f) => [f.name, { kind: f.kind, values: floats(f.values), statistics: f.statistics }])),
    })),
  }
}

const KEPT = 400

/** The lines of the case as they are read: which are plotted, of which frames and runs, and what was found along them. */
export const useLines = defineStore('lines', () => {
  const theCase = useCase()
  const reading = useReading()

  const lines = computed<ReadLine[]>(() => theCase.document?.reading?.lines ?? [])
  /** Names of the lines that are plotted. */
  const plotted = ref<string[]>([])
  /** The line whose form is open. */
  const chosen = ref('')
  /** The field that is plotted; that of the drawing when empty. */
  const plottedField = ref('')
  const field = computed(() => plottedField.value || reading.fieldName)
  /** Another field that is plotted with it, on an axis of its own at the right; none when empty. */
  const secondField = ref('')
  /** What local coefficients are counted from; as is usual for the surface when empty. */
  const reference = ref<'' | 'bulk' | 'entering'>('')
  /** Frames kept in the plot beside the one that is shown, and other runs of the case. */
  const keptFrames = ref<number[]>([])
  const otherRuns = ref<number[]>([])
  const open = computed(() => lines.value.some((line) => plotted.value.includes(line.name)))
  /** What is placed on the drawing next. */
  const tool = ref<'' | 'straight' | 'arc' | 'point' | 'box' | 'seed'>('')

  const found = shallowRef(new Map<string, LineAt | string>())
  const asked = new Set<string>()
  const keyOf = (line: ReadLine, run: number, frame: number | null) =>
    JSON.stringify([run, frame, line.along, line.along.type === 'surface' ? reference.value : ''])

  /** All lines that are wanted of a frame are asked for at once. */
  async function ask(wished: ReadLine[], run: number, frame: number | null): Promise<void> {
    const some = wished.filter((line) => !asked.has(keyOf(line, run, frame)))
    if (!some.length) return
    const keys = some.map((line) => keyOf(line, run, frame))
    for (const key of keys) asked.add(key)
    let answers: (LineAt | string)[]
    try {
      const body = { lines: some, frames: frame === null ? [] : [frame], reference: reference.value }
      const data = await take(api.POST('/api/runs/{run}/lines', { params: { path: { run } }, body }))
      answers = data.map((line) => line.problem || readLineAt(line.at[0]!))
    } catch (error) {
      answers = some.map(() => (error instanceof Error ? error.message : String(error)))
      // What the server could not be asked is asked again.
      if (error instanceof ApiError && error.status === 0) for (const key of keys) asked.delete(key)
    }
    const now = new Map(found.value)
    keys.forEach((key, i) => now.set(key, answers[i]!))
    for (const old of now.keys()) {
      if (now.size <= KEPT) break
      now.delete(old)
      asked.delete(old)
    }
    found.value = now
  }

  const at = (line: ReadLine, run: number, frame: number | null): LineAt | null => {
    const answer = found.value.get(keyOf(line, run, frame))
    return typeof answer === 'object' ? answer : null
  }
  /** Why a line cannot be read in the run that is shown. */
  const problemOf = (line: ReadLine): string => {
    const answer = found.value.get(keyOf(line, reading.runId, reading.frameNumber))
    return typeof answer === 'string' ? answer : ''
  }
  /** Where a line lies, from whatever frame is known. */
  const placeOf = (line: ReadLine): Profile[] => {
    const now = at(line, reading.runId, reading.frameNumber)
    if (now) return now.profiles
    for (const [key, answer] of found.value) {
      const [run, , along] = JSON.parse(key) as [number, number, unknown]
      if (typeof answer === 'object' && run === reading.runId && JSON.stringify(along) === JSON.stringify(line.along))
        return answer.profiles
    }
    return []
  }

  const wanted = computed(() => {
    if (!reading.runId) return []
    const list: [ReadLine, number, number | null][] = []
    for (const line of lines.value) {
      const isPlotted = plotted.value.includes(line.name)
      if (isPlotted || !placeOf(line).length) list.push([line, reading.runId, reading.frameNumber])
      if (!isPlotted) continue
      for (const frame of keptFrames.value) list.push([line, reading.runId, frame])
      for (const run of otherRuns.value) list.push([line, run, null])
    }
    return list
  })
  watch(
    [wanted, reference],
    () => {
      const together = new Map<string, [ReadLine[], number, number | null]>()
      for (const [line, run, frame] of wanted.value) {
        const of = `${run} ${frame}`
        if (!together.has(of)) together.set(of, [[], run, frame])
        together.get(of)![0].push(line)
      }
      for (const [some, run, frame] of together.values()) void ask(some, run, frame)
    },
    { immediate: true },
  )
  watch(
    () => reading.runId,
    () => {
      keptFrames.value = []
      otherRuns.value = otherRuns.value.filter((run) => run !== reading.runId)
    },
  )

  function freeName(base: string, taken: string[]): string {
    if (!taken.includes(base)) return base
    let number = 2
    while (taken.includes(`${base} ${number}`)) number++
    return `${base} ${number}`
  }

  /** A new line of the case, plotted at once. */
  function add(along: Along, base = 'line'): void {
    const name = freeName(
      base,
      lines.value.map((line) => line.name),
    )
    theCase.edit(`reading.lines.add ${Date.now()}`, (d) => readingOf(d).lines.push({ name, along }))
    plotted.value = [...plotted.value, name]
    chosen.value = name
    tool.value = ''
  }

  function remove(name: string): void {
    theCase.edit(`reading.lines.remove ${Date.now()}`, (d) => {
      readingOf(d).lines = readingOf(d).lines.filter((line) => line.name !== name)
      for (const view of readingOf(d).views) view.lines = view.lines.filter((line) => line !== name)
    })
    plotted.value = plotted.value.filter((one) => one !== name)
    if (chosen.value === name) chosen.value = ''
  }

  function rename(name: string, to: string): void {
    const wished = to.trim()
    if (!wished || wished === name || lines.value.some((line) => line.name === wished)) return
    theCase.edit(`reading.lines.rename ${Date.now()}`, (d) => {
      for (const line of readingOf(d).lines) if (line.name === name) line.name = wished
      for (const view of readingOf(d).views) view.lines = view.lines.map((line) => (line === name ? wished : line))
    })
    plotted.value = plotted.value.map((one) => (one === name ? wished : one))
    if (chosen.value === name) chosen.value = wished
  }

  function keepFrame(): void {
    if (!keptFrames.value.includes(reading.frameNumber)) keptFrames.value = [...keptFrames.value, reading.frameNumber]
  }

  function clear(): void {
    plotted.value = []
    keptFrames.value = []
    otherRuns.value = []
    plottedField.value = ''
    secondField.value = ''
    chosen.value = ''
    tool.value = ''
    found.value = new Map()
    asked.clear()
  }

  return {
    lines,
    plotted,
    chosen,
    plottedField,
    field,
    secondField,
    reference,
    keptFrames,
    otherRuns,
    open,
    tool,
    at,
    problemOf,
    placeOf,
    add,
    remove,
    rename,
    keepFrame,
    clear,
  }
})
