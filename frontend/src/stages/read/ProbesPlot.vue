<script setup lang="ts">
import { computed } from 'vue'

import Plot from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { useProbes } from '../../stores/probes'
import { useReading } from '../../stores/reading'

/** A field at the probes over the time of the run, with the instant that is shown. */
const probes = useProbes()
const reading = useReading()
const units = useUnits()
const kind = computed(() => reading.fields.find((f) => f.name === probes.course)?.kind ?? 'number')
const series = computed(() =>
  probes.found.flatMap((found) => {
    const { course } = found
    if (!course) return []
    const points = course.time.map((t, k): [number, number] => [units.shown(t, 'time'), units.shown(course.mean[k]!, kind.value)])
    return [{ name: found.name, points }]
  }),
)
const now = computed(() => {
  const time = reading.frames.find((f) => f.number === reading.frameNumber)?.time
  return time === null || time === undefined ? null : units.shown(time, 'time')
})
</script>

<template>
  <div class="row bar">
    <b>{{ probes.course }} at the probes</b>
    <span class="muted small">the mean of boxes and parts</span>
    <span class="grow"></span>
    <v-btn variant="text" size="small" aria-label="close the plot of probes" @click="probes.course = ''">close</v-btn>
  </div>
  <Plot
    v-if="series.length"
    :series="series"
    :x="`time, ${units.label('time')}`"
    :y="[probes.course, units.label(kind)].filter(Boolean).join(', ')"
    :moment="now"
    name="probes over time"
  />
  <p v-else class="muted nothing" role="status">{{ probes.problem || 'reading …' }}</p>
</template>

<style scoped>
.bar {
  flex: none;
}
.nothing {
  flex: 1;
  display: grid;
  place-items: center;
}
</style>
