<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'

import { colourTable, greyTable, mapOfKind } from '../design/colourMaps'
import { useUnits } from '../quantity/units'
import FieldCanvas from '../sketch/FieldCanvas.vue'
import { roundLevels } from '../sketch/isolines'
import type { Paint, Polygons } from '../sketch/raster'
import { latticeOf, type Shading } from '../sketch/shading'
import type { Viewport } from '../sketch/viewport'

/** An axis of a map: its values in SI, ascending, and how they are read in the unit of the axis. */
export interface MapAxis {
  values: number[]
  title: string
  shown: (value: number) => number
  toSi: (shown: number) => number
}
/** Lines of one level of a quantity over the same places. */
export interface Border {
  values: (number | null)[]
  level: number
  label: string
}

/** A quantity over two others: shaded, with labelled iso-lines; places and limits are drawn over it. */
const props = defineProps<{
  x: MapAxis
  y: MapAxis
  /** By rows along x, one for each value of y. */
  values: (number | null)[]
  kind: string
  name: string
  /** Limits, drawn instead of the iso-lines of the quantity itself. */
  borders?: Border[]
}>()
const units = useUnits()
const host = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(host)

// Shares of both ranges are the places of the drawing, so that no input is too small for it.
const [LEFT, RIGHT, TOP, BOTTOM] = [64, 14, 8, 40]
const view = computed<Viewport>(() => ({
  sx: Math.max(width.value - LEFT - RIGHT, 10),
  sy: Math.max(height.value - TOP - BOTTOM, 10),
  ox: LEFT,
  oy: Math.max(height.value - BOTTOM, 20),
}))
const share = (values: number[], value: number) => (value - values[0]!) / (values.at(-1)! - values[0]!)
const mesh = computed<Polygons | null>(() => {
  const [x, y] = [props.x.values, props.y.values]
  const [n, m] = [x.length, y.length]
  if (n < 2 || m < 2) return null
  const nodes = y.flatMap((b) => x.flatMap((a) => [share(x, a), share(y, b)]))
  const corners: number[] = []
  for (let j = 0; j + 1 < m; j++)
    for (let i = 0; i + 1 < n; i++) corners.push(j * n + i, j * n + i + 1, (j + 1) * n + i + 1, (j + 1) * n + i)
  const cells = (n - 1) * (m - 1)
  return {
    nodes: new Float32Array(nodes),
    cellStart: Uint32Array.from({ length: cells + 1 }, (_, k) => 4 * k),
    cellNodes: Uint32Array.from(corners),
    region: new Uint16Array(cells),
    cells,
  }
})
/** Cells with the values of the places at their corners. */
function shadingOf(at: (number | null)[]): Shading | null {
  const grid = mesh.value
  if (!grid) return null
  const lattice = latticeOf(grid)
  const corners = Float32Array.from(grid.cellNodes, (node) => at[node] ?? NaN)
  const values = Float32Array.from(
    { length: grid.cells },
    (_, c) => (corners[4 * c]! + corners[4 * c + 1]! + corners[4 * c + 2]! + corners[4 * c + 3]!) / 4,
  )
  const slopes = new Float32Array(2 * grid.cells)
  for (let k = 0; k < corners.length; k++) {
    const cell = k >> 2
    slopes[2 * cell]! += (corners[k]! - values[cell]!) * lattice.weights[2 * k]!
    slopes[2 * cell + 1]! += (corners[k]! - values[cell]!) * lattice.weights[2 * k + 1]!
  }
  return { values, corners, slopes, middles: lattice.middles }
}
const shading = computed(() => shadingOf(props.values))
const drawn = computed(() =>
  props.borders
    ? props.borders.map((one) => ({ shading: shadingOf(one.values), levels: [one.level], labelOf: () => one.label }))
    : [{ shading: shading.value, levels: levels.value, labelOf }],
)
const range = computed<[number, number]>(() => {
  const there = props.values.filter((v): v is number => v !== null && Number.isFinite(v))
  return there.length ? [Math.min(...there), Math.max(...there)] : [0, 1]
})
const map = computed(() => mapOfKind[props.kind] ?? 'brook')
const paint = computed<Paint>(() => ({
  low: range.value[0],
  high: range.value[1],
  table: colourTable(map.value),
  grey: greyTable(map.value),
  bands: 0,
  band: null,
  hidden: [],
}))
const levels = computed(() => {
  const [low, high] = range.value.map((v) => units.shown(v, props.kind))
  return roundLevels(low!, high!, 8).map((v) => units.toSi(v, props.kind))
})
const labelOf = (level: number) => String(Number(units.shown(level, props.kind).toPrecision(6)))
function ticks(axis: MapAxis): { at: number; text: string }[] {
  const [low, high] = [axis.shown(axis.values[0]!), axis.shown(axis.values.at(-1)!)]
  return roundLevels(Math.min(low, high), Math.max(low, high), 6).map((v) => ({
    at: share(axis.values, axis.toSi(v)),
    text: String(Number(v.toPrecision(6))),
  }))
}
const px = (value: number) => view.value.ox + share(props.x.values, value) * view.value.sx
const py = (value: number) => view.value.oy - share(props.y.values, value) * view.value.sy
</script>

<template>
  <div ref="host" class="host">
    <FieldCanvas :mesh="mesh" :shading="shading" :view="view" :width="width" :height="height" :paint="paint" :map="map" />
    <FieldCanvas
      v-for="(one, i) in drawn"
      :key="i"
      :mesh="mesh"
      :shading="one.shading"
      :view="view"
      :width="width"
      :height="height"
      :paint="paint"
      :map="map"
      :levels="one.levels"
      :label-of="one.labelOf"
      inked
    />
    <svg class="axes" :width="width" :height="height" role="group" :aria-label="`map of ${name}`">
      <rect :x="view.ox" :y="view.oy - view.sy" :width="view.sx" :height="view.sy" class="frame" />
      <g v-for="t in ticks(x)" :key="`x${t.text}`">
        <line :x1="view.ox + t.at * view.sx" :x2="view.ox + t.at * view.sx" :y1="view.oy" :y2="view.oy + 4" />
        <text :x="view.ox + t.at * view.sx" :y="view.oy + 15" text-anchor="middle">{{ t.text }}</text>
      </g>
      <g v-for="t in ticks(y)" :key="`y${t.text}`">
        <line :x1="view.ox - 4" :x2="view.ox" :y1="view.oy - t.at * view.sy" :y2="view.oy - t.at * view.sy" />
        <text :x="view.ox - 7" :y="view.oy - t.at * view.sy + 3.5" text-anchor="end">{{ t.text }}</text>
      </g>
      <text :x="view.ox + view.sx / 2" :y="view.oy + 32" text-anchor="middle" class="title">{{ x.title }}</text>
      <text :transform="`translate(12 ${view.oy - view.sy / 2}) rotate(-90)`" text-anchor="middle" class="title">
        {{ y.title }}
      </text>
      <slot :px="px" :py="py"></slot>
    </svg>
  </div>
</template>

<style scoped>
.host {
  position: relative;
  flex: 1;
  min-height: 120px;
}
.axes {
  position: absolute;
  inset: 0;
  font-size: 10.5px;
}
.axes text {
  fill: var(--muted);
}
.axes .title {
  font-size: 11px;
}
.axes line,
.axes .frame {
  stroke: var(--line);
  fill: none;
}
.axes :deep(circle) {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.2;
  cursor: pointer;
}
.axes :deep(circle:focus) {
  outline: none;
}
.axes :deep(circle.solved) {
  fill: var(--ink);
}
.axes :deep(circle.picked) {
  stroke: var(--heat);
  stroke-width: 2.5;
}
</style>
