import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'

import { api, take } from '../api/client'
import type { CaseDocument } from '../api/client'
import { bytes } from '../sketch/raster'
import { useReading } from './reading'

export type WallField = Exclude<NonNullable<CaseDocument['reading']>['views'][number]['walls'], ''>
/** What can be drawn on walls. */
export const WALL_FIELDS: WallField[] = [
  'heat flux into it',
  'heat flux radiated',
  'local h',
  'local Nusselt number',
  'friction',
  'y⁺',
]

/** A field along one wall, decoded; normals point into the part on whose side it is read. */
export interface Wall {
  name: string
  kind: string
  x: Float32Array
  y: Float32Array
  normalX: Float32Array
  normalY: Float32Array
  values: Float32Array
}

/** What is drawn on the walls of the run that is shown. */
export const useWalls = defineStore('walls', () => {
  const reading = useReading()
  const field = ref<WallField | ''>('')
  const walls = shallowRef<Wall[]>([])
  const problem = ref('')

  watch(
    [() => reading.runId, () => reading.frameNumber, field],
    async () => {
      const [run, frame, wanted] = [reading.runId, reading.frameNumber, field.value]
      problem.value = ''
      if (!run || !wanted) return void (walls.value = [])
      try {
        const data = await take(
          api.POST('/api/runs/{run}/walls', { params: { path: { run } }, body: { field: wanted, frame, reference: '' } }),
        )
        if (run !== reading.runId || frame !== reading.frameNumber || wanted !== field.value) return
        const floats = (text: string) => new Float32Array(bytes(text))
        walls.value = data.map((wall) => ({
          name: wall.name,
          kind: wall.kind,
          x: floats(wall.x),
          y: floats(wall.y),
          normalX: floats(wall.normal_x),
          normalY: floats(wall.normal_y),
          values: floats(wall.values),
        }))
        if (!data.length) problem.value = `no wall of this run has a ${wanted}`
      } catch (error) {
        walls.value = []
        problem.value = error instanceof Error ? error.message : String(error)
      }
    },
    { immediate: true },
  )

  return { field, walls, problem }
})
