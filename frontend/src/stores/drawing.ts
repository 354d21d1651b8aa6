import { defineStore } from 'pinia'
import { ref } from 'vue'

export const SHAPES = ['rectangle', 'circle', 'ring', 'polygon', 'curve', 'blade'] as const
export type ShapeType = (typeof SHAPES)[number]

/** What the drawing tools are at: the part that is chosen, the shape that is being placed, the step things snap to. */
export const useDrawing = defineStore('drawing', () => {
  /** Index of the chosen part in the document. */
  const part = ref(0)
  /** The shape that the next drag or clicks on the drawing place; none when empty. */
  const tool = ref<ShapeType | ''>('')
  /** Step in metres; 0 follows the size of the section. */
  const step = ref(0)
  return { part, tool, step }
})
