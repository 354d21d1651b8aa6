<script setup lang="ts">
import { computed } from 'vue'

import type { LedgerRow } from '../api/client'
import { useUnits } from '../quantity/units'

/** What is solved and what relations say, each with its band, on one axis. */
const props = defineProps<{ row: LedgerRow; stale: boolean }>()
const units = useUnits()
/** The axis goes beyond the outermost band by this share of all. */
const BEYOND = 0.06
const TICKS = 4

interface Bar {
  name: string
  low: number
  value: number
  high: number
  solved: boolean
  inside: boolean
}
/** The publication of a relation: what stands before its year's bracket closes. */
const short = (source: string) => /([A-ZÀ-Þ][\p{L}. ]*(?:and [A-ZÀ-Þ]\p{L}+ )?\(\d{4}\))/u.exec(source)?.[1] ?? source.slice(0, 40)

const bars = computed<Bar[]>(() => {
  const { row } = props
  const found: Bar[] = []
  if (row.solved !== null && !props.stale) {
    const beside = row.grid_plus_minus ?? 0
    const { solved } = row
    found.push({ name: 'Solved', low: solved - beside, value: solved, high: solved + beside, solved: true, inside: true })
  }
  for (const hand of row.by_hand ? [row.by_hand, ...(row.by_hand.also ?? [])] : [])
    found.push({ name: short(hand.source), low: hand.low, value: hand.value, high: hand.high, solved: false, inside: hand.inside })
  return found
})
const ends = computed<[number, number]>(() => {
  const low = Math.min(...bars.value.map((bar) => bar.low))
  const high = Math.max(...bars.value.map((bar) => bar.high))
  const beyond = BEYOND * (high - low || Math.abs(high) || 1)
  return [low - beyond, high + beyond]
})
const at = (value: number) => (100 * (value - ends.value[0])) / (ends.value[1] - ends.value[0])
const ticks = computed(() => {
  const [low, high] = ends.value
  return Array.from({ length: TICKS }, (_, i) => low + ((high - low) * (i + 0.5)) / TICKS)
})
const told = (bar: Bar) =>
  `${bar.name}: ${units.withUnit(bar.value, props.row.kind, 5)}, ${units.withUnit(bar.low, props.row.kind, 4)} to ${units.withUnit(bar.high, props.row.kind, 4)}${bar.inside ? '' : ', outside its range'}`
</script>

<template>
  <div v-if="bars.length > 1" class="bands small" role="img" :aria-label="bars.map(told).join('; ')" data-test="bands">
    <template v-for="bar in bars" :key="bar.name">
      <span class="name" :class="{ muted: !bar.inside }">{{ bar.name }}</span>
      <span v-tip="told(bar)" class="track">
        <i
          class="band"
          :class="{ solved: bar.solved, outside: !bar.inside }"
          :style="{ left: `${at(bar.low)}%`, width: `${Math.max(at(bar.high) - at(bar.low), 0.4)}%` }"
        ></i>
        <i class="mark" :class="{ solved: bar.solved }" :style="{ left: `${at(bar.value)}%` }"></i>
      </span>
    </template>
    <span></span>
    <span class="ticks muted">
      <span v-for="tick in ticks" :key="tick" :style="{ left: `${at(tick)}%` }">{{ units.format(tick, row.kind, 3) }}</span>
    </span>
  </div>
</template>

<style scoped>
.bands {
  display: grid;
  grid-template-columns: max-content minmax(120px, 1fr);
  gap: 3px 12px;
  align-items: center;
}
.track {
  position: relative;
  height: 14px;
  background: linear-gradient(var(--line), var(--line)) center / 100% 1px no-repeat;
}
.band {
  position: absolute;
  top: 3px;
  bottom: 3px;
  background: var(--muted);
  opacity: 0.5;
}
.band.solved {
  background: var(--heat);
}
.band.outside {
  background: repeating-linear-gradient(45deg, var(--muted) 0 2px, transparent 2px 5px);
}
.mark {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  margin-left: -1px;
  background: var(--ink);
}
.mark.solved {
  background: var(--heat);
}
.ticks {
  position: relative;
  height: 1.3em;
}
.ticks > span {
  position: absolute;
  transform: translateX(-50%);
}
</style>
