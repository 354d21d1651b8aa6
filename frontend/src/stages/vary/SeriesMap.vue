<script setup lang="ts">
import { computed, ref } from 'vue'

import PlaneMap, { type MapAxis } from '../../desk/PlaneMap.vue'
import { useSeries } from '../../stores/series'
import { sheetOver } from './families'

/** A quantity over two inputs: shaded between the points, with labelled iso-lines; points are clicked. */
const series = useSeries()
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

const axisOf = (i: number, values: number[]): MapAxis => ({
  values,
  title: series.titleOfVaried(i),
  shown: (value) => series.placeShown(i, value),
  toSi: (shown) => series.placeOfShown(i, shown),
})
const choices = computed(() => numeric.value.map((i) => ({ value: i, title: varied.value[i]!.label })))
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
    <p v-if="!sheet" class="muted">A map needs all combinations of two inputs, each with two values or more.</p>
    <PlaneMap
      v-else
      v-slot="{ px, py }"
      :x="axisOf(x, sheet.x)"
      :y="axisOf(y, sheet.y)"
      :values="sheet.values"
      :kind="quantity?.kind ?? 'number'"
      :name="quantity?.name ?? ''"
    >
      <circle
        v-for="p in sheet.points"
        :key="p.number"
        :cx="px(p.place[x]!)"
        :cy="py(p.place[y]!)"
        :r="p.number === series.picked ? 6 : 3.2"
        :class="{ solved: p.state === 'done', picked: p.number === series.picked }"
        role="button"
        tabindex="-1"
        :aria-label="`point ${p.number + 1}: ${p.values.join(', ')}`"
        @click="series.picked = p.number"
      />
    </PlaneMap>
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
</style>
