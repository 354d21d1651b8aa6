import { computed, ref, shallowRef, watch } from 'vue'

import { api, take, type Schemas } from '../api/client'
import { cellAreas, readFields, readMesh, type Field, type Polygons } from '../sketch/raster'
import type { Box } from '../sketch/viewport'

export type Compared = Schemas['ComparedOut']

/** The fields of one run on its grid, or why there are none. */
interface Side {
  mesh: Polygons | null
  areas: Float32Array
  fields: Field[]
  problem: string
}

const message = (error: unknown) => (error instanceof Error ? error.message : String(error))

/** Several runs beside each other: what is shown of each, and one range for all. */
export function useComparing(numbers: () => number[]) {
  const compared = shallowRef<Compared | null>(null)
  const problem = ref('')
  const sides = shallowRef<Side[]>([])
  const fieldName = ref('temperature')
  /** Fields as they are, or minus those of the first run. */
  const differences = ref(false)
  const apart = shallowRef<(Field | string | null)[]>([])
  /** The instant that is shown, s; the end of each run when null. */
  const time = ref<number | null>(null)
  const chosen = ref<[number, number] | null>(null)

  const times = computed(() => {
    const all = compared.value?.runs.flatMap((run) => run.frames.map((f) => f.time ?? 0)) ?? []
    return [...new Set(all)].sort((a, b) => a - b)
  })
  const frameOf = (run: Compared['runs'][number]): number | undefined => {
    if (!run.frames.length) return undefined
    const wanted = time.value
    if (wanted === null) return run.frames.at(-1)!.number
    return run.frames.reduce((best, f) => (Math.abs((f.time ?? 0) - wanted) < Math.abs((best.time ?? 0) - wanted) ? f : best))
      .number
  }

  async function load(): Promise<void> {
    compared.value = null
    problem.value = ''
    try {
      compared.value = await take(api.GET('/api/compare', { params: { query: { run: numbers() } } }))
    } catch (error) {
      problem.value = message(error)
    }
  }

  async function loadSides(): Promise<void> {
    const now = compared.value
    if (!now) return
    const loaded = await Promise.all(
      now.runs.map(async (run): Promise<Side> => {
        try {
          const params = { path: { run: run.run }, query: { frame: frameOf(run) } }
          const data = await take(api.GET('/api/runs/{run}/fields', { params }))
          const mesh = readMesh(data.mesh)
          return { mesh, areas: cellAreas(mesh), fields: readFields(data.fields), problem: '' }
        } catch (error) {
          return { mesh: null, areas: new Float32Array(), fields: [], problem: message(error) }
        }
      }),
    )
    if (now === compared.value) sides.value = loaded
  }

  async function loadDifferences(): Promise<void> {
    const now = compared.value
    apart.value = []
    if (!now || !differences.value) return
    const [first, ...others] = now.runs
    const found = await Promise.all(
      others.map(async (run): Promise<Field | string> => {
        try {
          // On the grid of each run that is compared, so that it lies in its own drawing.
          const query = { field: fieldName.value, frame: frameOf(run), other_frame: frameOf(first!) }
          const path = { run: run.run, other: first!.run }
          const data = await take(api.GET('/api/runs/{run}/difference/{other}', { params: { path, query } }))
          return readFields([data])[0]!
        } catch (error) {
          return message(error)
        }
      }),
    )
    if (now === compared.value) apart.value = [null, ...found]
  }

  watch(numbers, load, { immediate: true })
  watch([compared, time], loadSides)
  watch([compared, differences, fieldName, time], loadDifferences)
  watch([fieldName, differences], () => (chosen.value = null))

  const offered = computed(() => {
    const [first, ...others] = sides.value
    return (first?.fields ?? []).filter((f) => others.every((side) => !side.mesh || side.fields.some((g) => g.name === f.name)))
  })
  /** The field of each run that is shown: the first one as it is, also beside differences. */
  const shown = computed<(Field | null)[]>(() =>
    sides.value.map((side, i) => {
      const found = apart.value[i]
      if (differences.value && i > 0) return typeof found === 'object' ? found : null
      return side.fields.find((f) => f.name === fieldName.value) ?? null
    }),
  )
  const problemOf = (i: number) => {
    const found = apart.value[i]
    return sides.value[i]?.problem || (typeof found === 'string' && differences.value ? found : '')
  }
  const spanOf = (fields: (Field | null)[]): [number, number] => {
    const there = fields.filter((f): f is Field => f !== null)
    return there.length ? [Math.min(...there.map((f) => f.low)), Math.max(...there.map((f) => f.high))] : [0, 1]
  }
  /** What the scale is of: all runs, or the differences. */
  const scaled = computed(() => (differences.value ? shown.value.slice(1) : shown.value))
  const span = computed<[number, number]>(() => {
    const [low, high] = spanOf(scaled.value)
    if (!differences.value) return [low, high]
    const reach = Math.max(Math.abs(low), Math.abs(high)) || 1
    return [-reach, reach]
  })
  const range = computed<[number, number]>(() => chosen.value ?? span.value)
  const bounds = computed<Box | null>(() => {
    const boxes = (compared.value?.runs ?? []).flatMap((run) => (run.sketch ? [run.sketch.bounds] : []))
    if (!boxes.length) return null
    return {
      x0: Math.min(...boxes.map((b) => b[0]!)),
      y0: Math.min(...boxes.map((b) => b[1]!)),
      x1: Math.max(...boxes.map((b) => b[2]!)),
      y1: Math.max(...boxes.map((b) => b[3]!)),
    }
  })

  return {
    compared,
    problem,
    sides,
    fieldName,
    differences,
    time,
    times,
    frameOf,
    chosen,
    offered,
    shown,
    scaled,
    problemOf,
    span,
    range,
    bounds,
  }
}
