<script setup lang="ts">
import { computed } from 'vue'

import { useUnits } from '../quantity/units'
import { useWalls } from '../stores/walls'
import { type Up } from './upright'
import { toX, toY, type Viewport } from './viewport'

/** A field on the walls, drawn on them: how far it stands off a wall, away from the part it is read in, is how much there is of it;
 * what leaves that part is dashed. */
const props = defineProps<{ view: Viewport; width: number; height: number; up: Up | null }>()
const store = useWalls()
const units = useUnits()
/** The largest value stands so far off, px; values beyond this share of all are as far off as that. */
const REACH = 34
const MOST = 0.98
/** Walls with less than this share of the largest value are left plain. */
const LEAST = 0.005
/** A wall whose ends are nearer to each other than this many of its steps goes round. */
const ROUND = 3

const largest = computed(() => {
  const all = store.walls.flatMap((wall) => [...wall.values].filter(Number.isFinite).map(Math.abs)).sort((a, b) => a - b)
  return all.length ? all[Math.min(all.length - 1, Math.floor(MOST * all.length))]! : 0
})
const drawn = (x: number, y: number): [number, number] => (props.up ? [y, props.up * x] : [x, y])

interface Drawn {
  name: string
  leaves: boolean
  d: string
  label: { x: number; y: number; text: string } | null
}
const laid = computed<Drawn[]>(() =>
  store.walls.map((wall) => {
    const feet: string[] = []
    const tops: string[] = []
    let most = -1
    const last = wall.values.length - 1
    const apart = Math.hypot(wall.x[last]! - wall.x[0]!, wall.y[last]! - wall.y[0]!)
    const step = last > 0 ? Math.hypot(wall.x[1]! - wall.x[0]!, wall.y[1]! - wall.y[0]!) : 0
    const round = last > ROUND && apart < ROUND * step
    for (let i = 0; i <= last + (round ? 1 : 0); i++) {
      const k = i % (last + 1)
      const value = wall.values[k]!
      if (!Number.isFinite(value)) continue
      const [x, y] = drawn(wall.x[k]!, wall.y[k]!)
      const [nx, ny] = drawn(wall.normalX[k]!, wall.normalY[k]!)
      const far = REACH * Math.min(1, Math.abs(value) / (largest.value || 1))
      const [px, py] = [toX(props.view, x), toY(props.view, y)]
      feet.push(`${px.toFixed(1)},${py.toFixed(1)}`)
      tops.push(`${(px - far * nx).toFixed(1)},${(py + far * ny).toFixed(1)}`)
      if (most < 0 || Math.abs(value) > Math.abs(wall.values[most]!)) most = k
    }
    if (most < 0 || Math.abs(wall.values[most]!) < LEAST * largest.value)
      return { name: wall.name, leaves: false, d: '', label: null }
    const [x, y] = drawn(wall.x[most]!, wall.y[most]!)
    const [nx, ny] = drawn(wall.normalX[most]!, wall.normalY[most]!)
    const off = REACH + 9
    const text = units.withUnit(Number(wall.values[most]!.toPrecision(3)), wall.kind, 3)
    const label = {
      x: Math.min(Math.max(toX(props.view, x) - off * nx, 40), props.width - 40),
      y: Math.min(Math.max(toY(props.view, y) + off * ny + 4, 12), props.height - 6),
      text,
    }
    return { name: wall.name, leaves: wall.values[most]! < 0, d: `M${feet.join('L')}L${tops.reverse().join('L')}Z`, label }
  }),
)
/** Labels that do not lie on each other: the largest values first. */
const labels = computed(() => {
  const kept: { x: number; y: number; text: string }[] = []
  const order = store.walls
    .map((wall, i) => ({ i, most: Math.max(...[...wall.values].filter(Number.isFinite).map(Math.abs), 0) }))
    .sort((a, b) => b.most - a.most)
  for (const { i } of order) {
    const label = laid.value[i]?.label
    if (label && !kept.some((k) => Math.abs(k.x - label.x) < 78 && Math.abs(k.y - label.y) < 15)) kept.push(label)
  }
  return kept
})
</script>

<template>
  <g v-if="store.walls.length" class="walls" data-test="walls">
    <path v-for="(wall, i) in laid" :key="`${wall.name} ${i}`" class="wall-values" :class="{ leaves: wall.leaves }" :d="wall.d" />
    <g v-for="(label, i) in labels" :key="i">
      <text class="under" :x="label.x" :y="label.y" text-anchor="middle">{{ label.text }}</text>
      <text :x="label.x" :y="label.y" text-anchor="middle">{{ label.text }}</text>
    </g>
  </g>
</template>

<style scoped>
.wall-values {
  fill: var(--heat);
  fill-opacity: 0.28;
  stroke: var(--heat);
  stroke-width: 1.2;
  stroke-linejoin: round;
}
.leaves {
  fill-opacity: 0.14;
  stroke-dasharray: 3 2;
}
text {
  font-size: 11px;
  fill: var(--ink);
}
.under {
  stroke: var(--sheet);
  stroke-width: 3;
  stroke-linejoin: round;
}
</style>
