<script setup lang="ts">
import { ref, shallowRef, watch, computed } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import Plot, { type Series } from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { useSeries } from '../../stores/series'

/** Runs in time of a series: how one followed quantity went at each point, over each other. */
const series = useSeries()
const units = useUnits()
const found = shallowRef<Schemas['CoursesOut'] | null>(null)
const wanted = ref('')
const done = computed(() => (series.shown?.points ?? []).filter((p) => p.state === 'done').length)
watch(
  [() => series.shown?.id, wanted, done],
  async ([id, quantity]) => {
    if (!id) return
    const params = { path: { series: id }, query: { quantity } }
    const answer = await take(api.GET('/api/series/{series}/courses', { params }))
    if (id === series.shown?.id && quantity === wanted.value) found.value = answer
  },
  { immediate: true },
)
const kind = computed(() => found.value?.kinds[found.value.shown] ?? 'number')
const plotted = computed<Series[]>(() =>
  (found.value?.courses ?? []).map((one) => ({
    name: series.shown?.points.find((p) => p.number === one.number)?.values.join(', ') ?? `point ${one.number + 1}`,
    points: one.time.flatMap((t, i): [number, number][] => {
      const value = one.values[i]
      return value == null ? [] : [[units.shown(t, 'time'), units.shown(value, kind.value)]]
    }),
  })),
)
</script>

<template>
  <div class="courses" data-test="series-courses">
    <div class="row">
      <v-select
        :model-value="found?.shown"
        :items="found?.quantities ?? []"
        aria-label="followed quantity"
        @update:model-value="wanted = $event"
      />
      <span class="muted small">Settling times are among the quantities of the table and the curves.</span>
    </div>
    <Plot
      v-if="plotted.length"
      :series="plotted"
      :x="`time ${units.label('time')}`"
      :y="`${found?.shown ?? ''} ${units.label(kind)}`"
      name="courses"
    />
    <p v-else class="muted empty">No point has been solved in time yet.</p>
  </div>
</template>

<style scoped>
.courses {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.courses :deep(.plot) {
  flex: 1;
  display: flex;
  min-height: 0;
}
.v-select {
  max-width: 300px;
}
.empty {
  margin: auto;
}
</style>
