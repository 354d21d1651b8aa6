<script setup lang="ts">
import { computed, ref } from 'vue'

import { colourGradient } from '../design/colourMaps'
import { useUnits } from '../quantity/units'
import { distribution, type Field } from './raster'

/** The scale under pictures with the distribution of the values, on which the range is dragged. */
const props = defineProps<{
  name: string
  kind: string
  /** The whole range, and the part of it that has colours. */
  low: number
  high: number
  range: [number, number]
  map: string
  bands: number
  /** What is distributed: fields with the areas of their cells. */
  parts: { field: Field; areas: Float32Array }[]
}>()
const emit = defineEmits<{ range: [low: number, high: number]; whole: [] }>()
const units = useUnits()
const BINS = 120
const bar = ref<HTMLElement | null>(null)
const dragging = ref<'low' | 'high' | 'both' | null>(null)
let grabbed = 0

const bins = computed(() => {
  const sums = new Array<number>(BINS).fill(0)
  for (const { field, areas } of props.parts)
    distribution({ ...field, low: props.low, high: props.high }, areas, BINS, false).forEach((area, i) => (sums[i]! += area))
  const most = Math.max(...sums, 1e-30)
  return sums.map((sum) => sum / most)
})
/** The share of the area whose values lie beyond the colours. */
const CLIPPED = 0.02
const beyond = computed(() => {
  const [low, high] = props.range
  let [outside, all] = [0, 0]
  for (const { field, areas } of props.parts) {
    const { values } = field
    for (let cell = 0; cell < areas.length; cell++) {
      const value = values[cell]!
      if (value !== value) continue
      all += areas[cell]!
      if (value < low || value > high) outside += areas[cell]!
    }
  }
  return all > 0 ? outside / all : 0
})
const shape = computed(() => {
  // Rare values must be seen beside common ones: heights by the square root.
  const points = bins.value.map(
    (v, i) => `${(i / BINS) * 100},${(1 - Math.sqrt(v)) * 100} ${((i + 1) / BINS) * 100},${(1 - Math.sqrt(v)) * 100}`,
  )
  return `0,100 ${points.join(' ')} 100,100`
})
const share = (value: number) => (props.high > props.low ? (value - props.low) / (props.high - props.low) : 0.5)
const low = computed(() => Math.min(Math.max(share(props.range[0]), 0), 1) * 100)
const high = computed(() => Math.min(Math.max(share(props.range[1]), 0), 1) * 100)
const narrowed = computed(() => low.value > 0.01 || high.value < 99.99)

function valueAt(event: PointerEvent): number {
  const box = bar.value!.getBoundingClientRect()
  const at = Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1)
  return props.low + at * (props.high - props.low)
}

function grab(event: PointerEvent, what: 'low' | 'high' | 'both'): void {
  dragging.value = what
  grabbed = valueAt(event)
  ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
  event.preventDefault()
}

function move(event: PointerEvent): void {
  const f = props
  if (!dragging.value) return
  const value = valueAt(event)
  const least = (f.high - f.low) / 500
  let [a, b] = props.range
  if (dragging.value === 'low') a = Math.min(value, b - least)
  else if (dragging.value === 'high') b = Math.max(value, a + least)
  else {
    const step = Math.min(Math.max(value - grabbed, f.low - a), f.high - b)
    a += step
    b += step
    grabbed += step
  }
  emit('range', a, b)
}

function nudge(event: KeyboardEvent, end: 'low' | 'high'): void {
  const f = props
  const turn = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key]
  if (!turn) return
  event.preventDefault()
  const step = ((f.high - f.low) / 100) * turn
  const [a, b] = props.range
  if (end === 'low') emit('range', Math.min(Math.max(a + step, f.low), b - Math.abs(step)), b)
  else emit('range', a, Math.max(Math.min(b + step, f.high), a + Math.abs(step)))
}
</script>

<template>
  <div class="scale" data-test="colour-scale">
    <span class="name">{{ name }}</span>
    <span class="end number">{{ units.format(range[0], kind) }}</span>
    <div ref="bar" class="bar" @pointermove="move" @pointerup="dragging = null">
      <svg class="heights" viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true"><polygon :points="shape" /></svg>
      <div
        class="ramp"
        :style="{
          left: `${low}%`,
          width: `${high - low}%`,
          background: colourGradient(map, bands),
        }"
        @pointerdown="grab($event, 'both')"
      ></div>
      <div
        v-for="end in ['low', 'high'] as const"
        :key="end"
        class="handle"
        role="slider"
        tabindex="0"
        :aria-label="`${end} end of the colour range`"
        :aria-valuenow="units.shown(range[end === 'low' ? 0 : 1], kind)"
        :style="{ left: `${end === 'low' ? low : high}%` }"
        @pointerdown="grab($event, end)"
        @keydown="nudge($event, end)"
      ></div>
    </div>
    <span class="end">{{ units.withUnit(range[1], kind) }}</span>
    <span
      v-if="beyond > CLIPPED"
      v-tip="'of the area lies beyond the ends of the colours, and cannot be told apart'"
      class="doubt small"
      data-test="beyond"
      >{{ (100 * beyond).toPrecision(2) }} % beyond</span
    >
    <v-btn class="no-print" variant="text" size="small" :disabled="!narrowed" @click="emit('whole')">whole range</v-btn>
  </div>
</template>

<style scoped>
.scale {
  display: flex;
  align-items: flex-end;
  gap: var(--gap);
  padding: 2px 4px 0;
}
.name {
  font-weight: 500;
  min-width: 76px;
}
.end {
  min-width: 54px;
}
.bar {
  position: relative;
  flex: 1;
  height: 34px;
  touch-action: none;
}
.heights {
  position: absolute;
  inset: 0 0 11px 0;
  width: 100%;
  height: 23px;
}
.heights polygon {
  fill: var(--muted);
  opacity: 0.45;
}
.ramp {
  position: absolute;
  bottom: 0;
  height: 10px;
  cursor: grab;
}
.bar::after {
  content: '';
  position: absolute;
  left: 0;
  right: 0;
  bottom: 0;
  height: 10px;
  border: 1px solid var(--line);
  pointer-events: none;
}
.handle {
  position: absolute;
  top: 4px;
  bottom: -2px;
  width: 11px;
  margin-left: -5px;
  cursor: ew-resize;
}
.handle::before {
  content: '';
  position: absolute;
  left: 4px;
  width: 3px;
  top: 0;
  bottom: 0;
  background: var(--ink);
}
</style>
