import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'

import { api, ApiError, take, type Mesh, type Problem } from '../api/client'
import { mapOfKind } from '../design/colourMaps'
import { cellAreas, middles, readFields, readMesh, slopes, type Field, type Polygons, type Shading } from '../sketch/raster'
import { useCase } from './case'

/** What lies in the drawing: the fields of a run, or the grid of the case. */
export const useReading = defineStore('reading', () => {
  const theCase = useCase()
  const runId = ref(0)
  const mesh = shallowRef<Polygons | null>(null)
  const fields = shallowRef<Field[]>([])
  const areas = shallowRef<Float32Array>(new Float32Array())
  const fieldName = ref('temperature')
  const ranges = ref<Record<string, [number, number]>>({})
  const arrows = ref(true)
  const grid = shallowRef<{ mesh: Polygons; quality: Mesh['quality']; worst: Mesh['worst']; key: string } | null>(null)
  const gridError = ref('')
  const gridProblems = ref<Problem[]>([])
  /** The measure whose worst cells are marked on the drawing. */
  const shownWorst = ref('non-orthogonality')

  const field = computed(() => fields.value.find((f) => f.name === fieldName.value) ?? fields.value[0] ?? null)
  const centres = computed(() => (mesh.value ? middles(mesh.value) : new Float32Array()))
  const shading = computed<Shading | null>(() => {
    if (!mesh.value || !field.value) return null
    return { values: field.value.values, slopes: slopes(mesh.value, field.value.values), middles: centres.value }
  })
  const map = computed(() => mapOfKind[field.value?.kind ?? ''] ?? 'ember')
  const range = computed<[number, number]>(() => {
    const f = field.value
    if (!f) return [0, 1]
    return ranges.value[f.name] ?? [f.low, f.high]
  })

  /** Load the fields of the solution on the desk, once. */
  async function loadFields(): Promise<void> {
    const solution = theCase.solution
    if (!solution || solution.id === runId.value) return
    const data = await take(api.GET('/api/runs/{run}/fields', { params: { path: { run: solution.id } } }))
    mesh.value = readMesh(data.mesh)
    fields.value = readFields(data)
    areas.value = cellAreas(mesh.value)
    ranges.value = {}
    runId.value = solution.id
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
      const data = await take(api.POST('/api/grid', { body: { document: document as unknown as Record<string, unknown>, case: theCase.id } }))
      grid.value = { mesh: readMesh(data), quality: data.quality, worst: data.worst ?? [], key }
      gridError.value = ''
      gridProblems.value = []
    } catch (error) {
      gridError.value = error instanceof Error ? error.message : String(error)
      gridProblems.value = error instanceof ApiError ? error.problems : []
    }
  }

  function setRange(low: number, high: number): void {
    if (field.value) ranges.value = { ...ranges.value, [field.value.name]: [low, high] }
  }

  function wholeRange(): void {
    if (field.value) ranges.value = Object.fromEntries(Object.entries(ranges.value).filter(([name]) => name !== field.value?.name))
  }

  function clear(): void {
    runId.value = 0
    mesh.value = grid.value = null
    fields.value = []
    ranges.value = {}
  }

  return { runId, mesh, fields, areas, fieldName, arrows, grid, gridError, gridProblems, shownWorst, field, shading, map, range, loadFields, loadGrid, gridIsCurrent, setRange, wholeRange, clear }
})
