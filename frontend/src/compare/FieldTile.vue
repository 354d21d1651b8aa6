<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import type { Sketch } from '../api/client'
import { useUnits } from '../quantity/units'
import FieldCanvas from '../sketch/FieldCanvas.vue'
import { linePath } from '../sketch/flags'
import type { Field, Paint, Polygons } from '../sketch/raster'
import { latticeOf, shade } from '../sketch/shading'
import { fromX, fromY, toX, toY, zoom, type Viewport } from '../sketch/viewport'

/** The field of one run among several: same scale, same colours, moved and zoomed together with the others. */
const props = defineProps<{
  title: string
  said: string
  sketch: Sketch | null
  mesh: Polygons | null
  field: Field | null
  paint: Paint
  map: string
  view: Viewport | null
  problem: string
}>()
const emit = defineEmits<{ view: [view: Viewport]; size: [width: number, height: number]; whole: [] }>()
const units = useUnits()
const host = ref<HTMLElement | null>(null)
const canvas = ref<InstanceType<typeof FieldCanvas> | null>(null)
const { width, height } = useElementSize(host)
watch([width, height], () => emit('size', width.value, height.value))
const cursor = ref<{ x: number; y: number } | null>(null)

const lattice = computed(() => (props.mesh ? latticeOf(props.mesh) : null))
const shading = computed(() => (lattice.value && props.field ? shade(lattice.value, props.field.values) : null))
const outline = (rings: number[][][]) =>
  rings.map((ring) => `M${ring.map(([x, y]) => `${toX(props.view!, x!)},${toY(props.view!, y!)}`).join('L')}Z`).join('')
const under = computed(() => {
  const [v, c] = [props.view, cursor.value]
  const cell = c ? (canvas.value?.cellAt(c.x, c.y) ?? -1) : -1
  if (!v || !c || cell < 0 || !props.field) return ''
  const place = `x ${units.withUnit(fromX(v, c.x), 'length', 4)}  y ${units.withUnit(fromY(v, c.y), 'length', 4)}`
  return `${units.withUnit(props.field.values[cell], props.field.kind, 5)}   ${place}`
})

let from: { x: number; y: number; view: Viewport } | null = null
function move(event: PointerEvent): void {
  cursor.value = { x: event.offsetX, y: event.offsetY }
  if (!from) return
  emit('view', { ...from.view, ox: from.view.ox + event.offsetX - from.x, oy: from.view.oy + event.offsetY - from.y })
}
function press(event: PointerEvent): void {
  if (props.view) from = { x: event.offsetX, y: event.offsetY, view: props.view }
}
function wheel(event: WheelEvent): void {
  event.preventDefault()
  if (props.view) emit('view', zoom(props.view, Math.exp(-event.deltaY * 0.0015), event.offsetX, event.offsetY))
}
</script>

<template>
  <figure class="sheet tile" :data-tile="title">
    <figcaption class="row">
      <b>{{ title }}</b> <span class="muted small">{{ said }}</span>
      <span class="grow"></span>
      <span class="small number">{{ under }}</span>
    </figcaption>
    <div ref="host" class="host" @wheel="wheel">
      <FieldCanvas
        v-if="width > 0"
        ref="canvas"
        :mesh="mesh"
        :shading="shading"
        :view="view"
        :width="width"
        :height="height"
        :paint="paint"
        :map="map"
      />
      <svg
        v-if="view && sketch"
        :width="width"
        :height="height"
        role="img"
        :aria-label="`${field?.name ?? ''} of ${title}`"
        @pointerdown="press"
        @pointermove="move"
        @pointerup="from = null"
        @pointerleave="((from = null), (cursor = null))"
        @dblclick="emit('whole')"
      >
        <path v-for="part in sketch.parts" :key="part.name" :d="outline(part.rings)" class="part" fill-rule="evenodd" />
        <path v-for="b in sketch.boundaries" :key="b.name" :d="linePath(view, b.lines)" class="edge" />
      </svg>
      <p v-if="problem" class="fault problem" role="alert">{{ problem }}</p>
    </div>
  </figure>
</template>

<style scoped>
.tile {
  display: flex;
  flex-direction: column;
  margin: 0;
  padding: 4px 8px;
  min-width: 0;
  min-height: 0;
}
.host {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: hidden;
  user-select: none;
}
svg {
  position: absolute;
  inset: 0;
}
.part {
  fill: none;
  stroke: none;
}
.edge {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1;
}
.problem {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
  margin: 0;
  background: color-mix(in srgb, var(--sheet) 80%, transparent);
}
</style>
