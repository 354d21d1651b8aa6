<script setup lang="ts">
import { computed } from 'vue'

import { useUnits } from '../quantity/units'
import { useReading } from '../stores/reading'
import { fastestOf, LONGEST, roundBelow, SLOWEST } from './arrows'

/** How long an arrow is at a round speed, and below which speed none is drawn. */
const reading = useReading()
const units = useUnits()
const key = computed(() => {
  const [u, v] = reading.velocity
  const fastest = reading.arrows && u && v ? fastestOf(u.values, v.values) : 0
  if (!fastest) return null
  const shown = units.shown(fastest, 'velocity')
  const round = roundBelow(shown)
  return {
    length: (LONGEST * round) / shown,
    speed: units.readably((fastest * round) / shown, 'velocity', 2),
    least: units.readably(SLOWEST * fastest, 'velocity', 2),
  }
})
</script>

<template>
  <div v-if="key" v-tip="`no arrows where fluid is slower than ${key.least}`" class="arrow-key small" data-test="arrow-key">
    <svg :width="LONGEST + 2" height="10" aria-hidden="true">
      <path :d="`M1,5h${key.length}m-4,-2.5l4,2.5l-4,2.5`" />
    </svg>
    <span>{{ key.speed }}</span>
    <span class="muted">none below {{ key.least }}</span>
  </div>
</template>

<style scoped>
.arrow-key {
  position: absolute;
  right: 4px;
  bottom: 1px;
  display: flex;
  align-items: center;
  gap: 6px;
  background: var(--sheet);
  border: 1px solid var(--hair);
  padding: 0 6px;
  white-space: nowrap;
}
path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.2;
}
</style>
