<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'

import { colourTable, greyTable, mapOfKind } from '../../design/colourMaps'
import { useUnits } from '../../quantity/units'
import FieldCanvas from '../../sketch/FieldCanvas.vue'
import { roundLevels } from '../../sketch/isolines'
import { latticeOf, type Shading } from '../../sketch/shading'
import type { Paint, Polygons } from '../../sketch/raster'
import type { Viewport } from '../../sketch/viewport'
import { useSeries } from '../../stores/series'
import { sheetOver } from './families'

/** A quantity over two inputs: shaded between the points, with labelled iso-lines; points are clicked. */
const series = useSeries()
const units = useUnits()
const host = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(host)
const numeric = computed(() => (series.shown?.varied ?? []).flatMap((one, i) => (one.kind ? [i] : [])))
const across = ref(-1)
const up = ref(-1)
const x = computed(() => (numeric.value.includes(across.value) ? across.value : (numeric.value[0] ?? 0)))
const y = computed(() => {
  const others = numeric.value.filter((i) => i !== x.value)
  return others.includes(up.value) ? up.value : (others[0] ?? 0)
})
const q = computed(() => series.placeOf(series.read[0] ?? ''))
const quantity = computed(() => series.quantities[q.value])
const solved = computed(() => series.shown?.points.every((p) => p.solved?.[q.value] != null) ?? false)
const at = computed(() => series.pickedPoint ?? series.shown?.points[0] ?? null)
const sheet = computed(() =>
  series.shown && at.value && q.value >= 0
    ? sheetOver(series.shown, x.value, y.value, at.value, (p) => (solved.value ? p.solved![q.value]! : (p.hand[q.value] ?? null)))
    : null,
)
const varied = computed(() => series.shown?.varied ?? [])
/** Other inputs have one value on a map. */
const fixed = computed(() =>
  varied.value.flatMap((one, i) => (i === x.value || i === y.value ? [] : [`${one.label} ${at.value?.values[i]}`])).join(', '),
)

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
  const s = sheet.value
  if (!s) return null
  const [n, m] = [s.x.length, s.y.length]
  const nodes = s.y.flatMap((b) => s.x.flatMap((a) => [share(s.x, a), share(s.y, b)]))
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
/** Cells with the values of the points at their corners. */
const shading = computed<Shading | null>(() => {
  const [s, grid] = [sheet.value, mesh.value]
  if (!s || !grid) return null
  const lattice = latticeOf(grid)
  const corners = Float32Array.from(grid.cellNodes, (node) => s.values[node] ?? NaN)
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
})
const range = computed<[number, number]>(() => {
  const there = (sheet.value?.values ?? []).filter((v): v is number => v !== null && Number.isFinite(v))
  return there.length ? [Math.min(...there), Math.max(...there)] : [0, 1]
})
const map = computed(() => mapOfKind[quantity.value?.kind ?? ''] ?? 'brook')
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
  const kind = quantity.value?.kind ?? 'number'
  const [low, high] = range.value.map((v) => units.shown(v, kind))
  return roundLevels(low!, high!, 8).map((v) => units.toSi(v, kind))
})
const labelOf = (level: number) => String(Number(units.shown(level, quantity.value?.kind ?? 'number').toPrecision(6)))
function ticks(i: number, values: number[]): { at: number; text: string }[] {
  const [low, high] = [series.placeShown(i, values[0]!), series.placeShown(i, values.at(-1)!)]
  return roundLevels(Math.min(low, high), Math.max(low, high), 6).map((v) => ({
    at: share(values, series.placeOfShown(i, v)),
    text: String(Number(v.toPrecision(6))),
  }))
}
const choices = computed(() => numeric.value.map((i) => ({ value: i, title: varied.value[i]!.label })))
const px = (s: number) => view.value.ox + s * view.value.sx
const py = (s: number) => view.value.oy - s * view.value.sy
</script>

<template>
  <div class="map" data-test="series-map">
    <div class="row small">
      <template v-if="numeric.length > 2">
        <v-select :model-value="x" :items="choices" aria-label="across" @update:model-value="across = $event" />
        <v-select
          :model-value="y"
          :items="choices.filter((c) => c.value !== x)"
          aria-label="up"
          @update:model-value="up = $event"
        />
      </template>
      <span class="muted">{{ quantity?.name }} {{ solved ? 'solved' : 'by hand' }}{{ fixed ? `, at ${fixed}` : '' }}</span>
    </div>
    <div ref="host" class="host">
      <p v-if="!sheet" class="muted">A map needs all combinations of two inputs, each with two values or more.</p>
      <template v-else>
        <FieldCanvas :mesh="mesh" :shading="shading" :view="view" :width="width" :height="height" :paint="paint" :map="map" />
        <FieldCanvas
          :mesh="mesh"
          :shading="shading"
          :view="view"
          :width="width"
          :height="height"
          :paint="paint"
          :map="map"
          :levels="levels"
          :label-of="labelOf"
          inked
        />
        <svg class="axes" :width="width" :height="height" role="group" :aria-label="`map of ${quantity?.name}`">
          <rect :x="view.ox" :y="view.oy - view.sy" :width="view.sx" :height="view.sy" class="frame" />
          <g v-for="t in ticks(x, sheet.x)" :key="`x${t.text}`">
            <line :x1="px(t.at)" :x2="px(t.at)" :y1="view.oy" :y2="view.oy + 4" />
            <text :x="px(t.at)" :y="view.oy + 15" text-anchor="middle">{{ t.text }}</text>
          </g>
          <g v-for="t in ticks(y, sheet.y)" :key="`y${t.text}`">
            <line :x1="view.ox - 4" :x2="view.ox" :y1="py(t.at)" :y2="py(t.at)" />
            <text :x="view.ox - 7" :y="py(t.at) + 3.5" text-anchor="end">{{ t.text }}</text>
          </g>
          <text :x="view.ox + view.sx / 2" :y="view.oy + 32" text-anchor="middle" class="title">{{ series.titleOfVaried(x) }}</text>
          <text :transform="`translate(12 ${view.oy - view.sy / 2}) rotate(-90)`" text-anchor="middle" class="title">
            {{ series.titleOfVaried(y) }}
          </text>
          <circle
            v-for="p in sheet.points"
            :key="p.number"
            :cx="px(share(sheet.x, p.place[x]!))"
            :cy="py(share(sheet.y, p.place[y]!))"
            :r="p.number === series.picked ? 6 : 3.2"
            :class="{ solved: p.state === 'done', picked: p.number === series.picked }"
            role="button"
            tabindex="-1"
            :aria-label="`point ${p.number + 1}: ${p.values.join(', ')}`"
            @click="series.picked = p.number"
          />
        </svg>
      </template>
    </div>
  </div>
</template>

<style scoped>
.map {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  min-width: 0;
}
.map .v-select {
  max-width: 200px;
}
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
circle {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.2;
  cursor: pointer;
}
circle:focus {
  outline: none;
}
circle.solved {
  fill: var(--ink);
}
circle.picked {
  stroke: var(--heat);
  stroke-width: 2.5;
}
</style>
