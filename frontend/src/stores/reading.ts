import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'

import { api, ApiError, fetchBytes, take, type Mesh, type Problem } from '../api/client'
import { mapOfKind } from '../design/colourMaps'
import { copiesOf, layField, layMesh, mirrorLines, type Copy, type GoesOn } from '../sketch/copies'
import { cellAreas, readMesh, readPacked, readPackedMesh, type Field, type Polygons } from '../sketch/raster'
import { useCase } from './case'

/** Frames kept in the browser. */
const FRAMES_KEPT = 80
/** Frames fetched before they are asked for. */
const AHEAD = 4

/** What lies in the drawing: the fields of a run, or the grid of the case. */
export const useReading = defineStore('reading', () => {
  const theCase = useCase()
  const runId = ref(0)
  /** The frame that is shown, and those there are; a steady run has one. */
  const frameNumber = ref(0)
  const frames = computed(() => theCase.readable?.frames ?? [])
  const newest = () => frames.value.at(-1)?.number
  /** Whether the newest frame is shown as frames come, which ends when an older one is chosen. */
  let following = true
  let asked = 0
  /** Colours span all frames as far as they have been seen, or each frame by itself. */
  const allFrames = ref(true)
  const seen = ref<Record<string, [number, number]>>({})
  const kept = new Map<string, Field[]>()
  const coming = new Map<string, Promise<Field[]>>()
  const own = shallowRef<Polygons | null>(null)
  const fields = shallowRef<Field[]>([])
  const fieldName = ref('temperature')
  const ranges = ref<Record<string, [number, number]>>({})
  /** Whether ranges that were set stay for later runs of the case. */
  const locked = ref(false)
  /** Cells that are in view on the drawing, told by it; all when null. */
  const inView = shallowRef<(() => Set<number>) | null>(null)
  const arrows = ref(true)
  const grid = shallowRef<{ mesh: Polygons; quality: Mesh['quality']; worst: Mesh['worst']; key: string } | null>(null)
  const gridError = ref('')
  const gridProblems = ref<Problem[]>([])
  /** The measure whose worst cells are marked on the drawing. */
  const shownWorst = ref('non-orthogonality')

  /** Modules of a section that repeats that are drawn, and at which of its planes of symmetry it is mirrored. */
  const repeats = ref(1)
  const chosenMirrors = ref<number[] | null>(null)
  const goesOn = computed(() => (theCase.readable?.summary.module as GoesOn | null | undefined) ?? null)
  const planes = computed(() => (theCase.sketch ? mirrorLines(theCase.sketch) : []))
  /** What turns about an axis that it reaches is shown whole, unless it is chosen otherwise; a ring would become small. */
  const aboutAxis = computed(() => {
    const sketch = theCase.sketch
    const reaches = sketch?.axisymmetric && Math.abs(sketch.bounds[1]!) < 1e-6 * (sketch.bounds[3]! - sketch.bounds[1]!)
    return reaches ? planes.value.flatMap((plane, i) => (plane.axis === 'y' && plane.at === 0 ? [i] : [])) : []
  })
  const mirrors = computed({
    get: () => chosenMirrors.value ?? aboutAxis.value,
    set: (planes) => (chosenMirrors.value = planes),
  })
  const copies = computed<Copy[]>(() =>
    copiesOf(
      goesOn.value,
      repeats.value,
      planes.value.filter((_, i) => mirrors.value.includes(i)),
    ),
  )
  const mesh = computed(() => (own.value ? layMesh(own.value, copies.value) : null))
  const areas = computed(() => (mesh.value ? cellAreas(mesh.value) : new Float32Array()))
  const laid = (name: string) => {
    const found = fields.value.find((f) => f.name === name)
    return found ? layField(found, copies.value, goesOn.value) : null
  }
  const velocity = computed(() => [laid('velocity x'), laid('velocity y')] as const)

  const field = computed(() =>
    laid(fields.value.some((f) => f.name === fieldName.value) ? fieldName.value : (fields.value[0]?.name ?? '')),
  )
  const mapOf = (name: string) => mapOfKind[fields.value.find((f) => f.name === name)?.kind ?? ''] ?? 'ember'
  const map = computed(() => mapOf(field.value?.name ?? ''))
  const range = computed<[number, number]>(() => {
    const f = field.value
    if (!f) return [0, 1]
    if (allFrames.value && frames.value.length > 1) return ranges.value[f.name] ?? seen.value[f.name] ?? [f.low, f.high]
    return ranges.value[f.name] ?? [f.low, f.high]
  })

  /** Load the fields of the solution on the desk, once. */
  async function loadFields(): Promise<void> {
    const run = theCase.readable
    if (!run || run.id === runId.value || !run.frames.length) return
    const last = run.frames.at(-1)!.number
    const [mesh, fields] = await Promise.all([fetchBytes(`/api/runs/${run.id}/mesh/packed`), frameOf(run.id, last)])
    if (run.id !== theCase.readable?.id) return
    own.value = readPackedMesh(mesh)
    if (!locked.value) ranges.value = {}
    seen.value = {}
    kept.clear()
    runId.value = run.id
    following = true
    asked = last
    show(last, fields)
  }

  /** The fields of a frame, asked for once. */
  function frameOf(run: number, number: number): Promise<Field[]> {
    const key = `${run}.${number}`
    const known = kept.get(key)
    if (known) return Promise.resolve(known)
    const waiting = coming.get(key)
    if (waiting) return waiting
    const answer = fetchBytes(`/api/runs/${run}/frames/${number}/packed`)
      .then(readPacked)
      .finally(() => coming.delete(key))
    coming.set(key, answer)
    return answer
  }

  /** Fetch the frames that come next, so that a film does not wait for them. */
  function fetchAhead(number: number): void {
    const run = runId.value
    const at = frames.value.findIndex((f) => f.number === number)
    for (const frame of frames.value.slice(at + 1, at + 1 + AHEAD)) {
      const key = `${run}.${frame.number}`
      if (kept.has(key) || coming.has(key)) continue
      void frameOf(run, frame.number)
        .then((fields) => run === runId.value && keep(key, fields))
        .catch(() => undefined)
    }
  }

  function keep(key: string, fields: Field[]): void {
    kept.set(key, fields)
    // The oldest frames go, so that a long run does not fill the memory.
    for (const old of kept.keys()) {
      if (kept.size <= FRAMES_KEPT) break
      kept.delete(old)
    }
  }

  function show(number: number, now: Field[]): void {
    const wider = { ...seen.value }
    for (const f of now) {
      const before = wider[f.name]
      wider[f.name] = before ? [Math.min(before[0], f.low), Math.max(before[1], f.high)] : [f.low, f.high]
    }
    seen.value = wider
    fields.value = now
    frameNumber.value = number
    keep(`${runId.value}.${number}`, now)
    fetchAhead(number)
  }

  /** Show a frame of the run that is loaded; frames come one by one as they are asked for. */
  async function showFrame(number: number): Promise<void> {
    const run = runId.value
    following = number === newest()
    asked = number
    const fields = await frameOf(run, number)
    // Answers may come in another order than they were asked for.
    if (run === runId.value && number === asked) show(number, fields)
  }

  /** While a run goes on, its newest frame is shown, unless an older one has been chosen. */
  async function followFrames(): Promise<void> {
    await loadFields()
    const last = newest()
    if (theCase.readable?.id === runId.value && following && last !== undefined && last !== asked) await showFrame(last)
  }

  const gridKey = () => {
    const d = theCase.document
    return d ? JSON.stringify([d.inputs, d.section, d.grid, d.conditions, d.contacts]) : ''
  }
  /** Whether the grid that is loaded is that of the case as it stands. */
  const gridIsCurrent = () => grid.value !== null && grid.value.key === gridKey()

  /** Load the grid the case makes as it stands. */
  async function loadGrid(): Promise<void> {
    const document = theCase.document
    if (!document || gridIsCurrent()) return
    const key = gridKey()
    try {
      const data = await take(api.POST('/api/grid', { body: { document, case: theCase.id } }))
      grid.value = { mesh: readMesh(data), quality: data.quality, worst: data.worst ?? [], key }
      gridError.value = ''
      gridProblems.value = []
    } catch (error) {
      gridError.value = error instanceof Error ? error.message : String(error)
      gridProblems.value = error instanceof ApiError ? error.problems : []
    }
  }

  /** The range that was set for the field; none where its own is shown. */
  const chosenRange = computed(() => (field.value ? (ranges.value[field.value.name] ?? null) : null))

  function setRange(low: number, high: number): void {
    if (field.value) ranges.value = { ...ranges.value, [field.value.name]: [low, high] }
  }

  function wholeRange(): void {
    if (field.value) ranges.value = Object.fromEntries(Object.entries(ranges.value).filter(([name]) => name !== field.value?.name))
  }

  /** The range of the values that are in view. */
  function visibleRange(): void {
    const [f, cells] = [field.value, inView.value?.()]
    if (!f || !cells) return
    let [low, high] = [Infinity, -Infinity]
    for (const cell of cells) {
      const value = f.values[cell]!
      if (value < low) low = value
      if (value > high) high = value
    }
    if (low < high) setRange(low, high)
  }

  function clear(): void {
    runId.value = 0
    own.value = grid.value = null
    repeats.value = 1
    chosenMirrors.value = null
    fields.value = []
    ranges.value = {}
  }

  return {
    runId,
    frameNumber,
    frames,
    allFrames,
    showFrame,
    followFrames,
    repeats,
    mirrors,
    goesOn,
    planes,
    copies,
    velocity,
    own,
    laid,
    mesh,
    fields,
    areas,
    fieldName,
    arrows,
    grid,
    gridError,
    gridProblems,
    shownWorst,
    field,
    map,
    mapOf,
    range,
    loadFields,
    loadGrid,
    gridIsCurrent,
    setRange,
    chosenRange,
    wholeRange,
    visibleRange,
    locked,
    inView,
    clear,
  }
})
