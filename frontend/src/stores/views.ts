import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

import type { CaseDocument } from '../api/client'
import { useCase } from './case'
import { useLines } from './lines'
import { useLook } from './look'
import { useReading } from './reading'
import { useWalls } from './walls'
import { readingOf } from './wishes'

export type View = NonNullable<CaseDocument['reading']>['views'][number]

/** Views of the case: how a run is looked at, kept by name for later runs and the report. */
export const useViews = defineStore('views', () => {
  const theCase = useCase()
  const reading = useReading()
  const look = useLook()
  const lines = useLines()
  const walls = useWalls()
  const views = computed<View[]>(() => theCase.document?.reading?.views ?? [])
  /** The view that was applied or kept last. */
  const current = ref('')

  /** What is seen now, as a view. */
  function seen(name: string): View {
    const range = reading.chosenRange
    const time = reading.frames.find((f) => f.number === reading.frameNumber)?.time ?? null
    const last = reading.frames.at(-1)?.number === reading.frameNumber
    return {
      name,
      field: reading.fieldName,
      look: look.look,
      levels: look.levels,
      colours: look.chosenMap,
      middle: look.middle,
      low: range?.[0] ?? null,
      high: range?.[1] ?? null,
      band: look.band ? [...look.band] : [],
      shown: look.shown,
      arrows: reading.arrows,
      streamlines: look.streamStart,
      spacing: look.spacing,
      seed: look.seedLine,
      lines: [...lines.plotted],
      walls: walls.field,
      plotted: lines.plottedField,
      time: last ? null : time,
      zoom: look.window ? [...look.window] : [],
      printed: views.value.find((one) => one.name === name)?.printed ?? false,
    }
  }

  /** Keep what is seen, in the place of a view of the same name. */
  function keep(name: string): void {
    const view = seen(name)
    theCase.edit(`reading.views.keep ${Date.now()}`, (d) => {
      const kept = readingOf(d).views
      const at = kept.findIndex((one) => one.name === name)
      if (at < 0) kept.push(view)
      else kept[at] = view
    })
    current.value = name
  }

  function remove(name: string): void {
    theCase.edit(`reading.views.remove ${Date.now()}`, (d) => {
      readingOf(d).views = readingOf(d).views.filter((one) => one.name !== name)
    })
    if (current.value === name) current.value = ''
  }

  async function apply(view: View): Promise<void> {
    current.value = view.name
    if (reading.fields.some((f) => f.name === view.field)) reading.fieldName = view.field
    look.look = view.look
    look.levels = view.levels
    look.chosenMap = view.colours
    look.middle = view.middle ?? null
    look.band = view.band.length === 2 ? [view.band[0]!, view.band[1]!] : null
    look.shown = view.shown
    look.streamStart = view.streamlines
    look.spacing = view.spacing
    look.seedLine = view.seed
    reading.arrows = view.arrows
    // A range that is kept holds for views as it does for frames and runs.
    if (!reading.locked) {
      if (typeof view.low === 'number' && typeof view.high === 'number') reading.setRange(view.low, view.high)
      else reading.wholeRange()
    }
    lines.plotted = view.lines.filter((name) => lines.lines.some((line) => line.name === name))
    lines.plottedField = view.plotted
    walls.field = view.walls
    look.wantWindow(view.zoom.length === 4 ? [...view.zoom] : null)
    const last = reading.frames.at(-1)
    const { time } = view
    const nearest = (wanted: number) =>
      reading.frames.reduce((best, f) => (Math.abs((f.time ?? 0) - wanted) < Math.abs((best.time ?? 0) - wanted) ? f : best))
    if (last) await reading.showFrame((typeof time === 'number' ? nearest(time) : last).number)
  }

  return { views, current, seen, keep, remove, apply }
})
