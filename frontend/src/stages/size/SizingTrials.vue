<script setup lang="ts">
import { computed, ref } from 'vue'

import Plot, { type Series } from '../../desk/Plot.vue'
import { idOf, type Key } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useSizing } from '../../stores/sizing'

/** The history of a sizing: each trial by hand and solved, along the input where there is one, else one after the other. */
const theCase = useCase()
const sizing = useSizing()
const units = useUnits()
const chosen = computed(() => sizing.found?.chosen ?? sizing.hand?.chosen ?? [])
const varied = computed(() => chosen.value.flatMap((one) => one.varied))
const quantities = computed(() => {
  const known = sizing.found?.quantities ?? sizing.hand?.quantities ?? []
  const keys = sizing.trials[0]?.keys ?? []
  return keys.map((key) => known.find((q) => idOf(q.key) === idOf(key)) ?? rowOf(key))
})
const rowOf = (key: Key) => {
  const row = theCase.ledger.find((one) => idOf(one.key) === idOf(key))
  return { key, name: row?.name ?? key.quantity, kind: row?.kind ?? 'number' }
}
const which = ref(0)
const q = computed(() => (which.value < quantities.value.length ? which.value : 0))
const quantity = computed(() => quantities.value[q.value])
/** Along the one input that is chosen, where there is one. */
const along = computed(() => (varied.value.length === 1 && chosen.value[0]?.kind ? chosen.value[0] : null))
const series = computed<Series[]>(() => {
  if (!quantity.value) return []
  const y = (value: number) => units.shown(value, quantity.value!.kind)
  const x = (i: number) => (along.value ? units.shown(sizing.trials[i]!.place[0]!, along.value.kind) : i + 1)
  const result: Series[] = []
  const curve = sizing.found?.curve ?? []
  if (along.value && curve.length)
    result.push({ name: 'by hand', points: curve.map(([a, b]) => [units.shown(a, along.value!.kind), y(b)]), dashed: true })
  else
    result.push({
      name: 'by hand',
      points: sizing.trials.flatMap((t, i): [number, number][] => (t.hand[q.value] == null ? [] : [[x(i), y(t.hand[q.value]!)]])),
      marks: true,
      dashed: true,
    })
  result.push({
    name: 'solved',
    points: sizing.trials.map((t, i) => [x(i), y(t.solved[q.value]!)]),
    marks: true,
    line: !along.value,
  })
  return result
})
const level = computed(() => {
  const margin = sizing.found?.margins.find((m) => idOf(m.key) === idOf(quantity.value?.key))
  const target = margin ? (margin.lower ?? margin.upper) : (sizing.found?.target ?? null)
  return target === null || !quantity.value ? null : units.shown(target, quantity.value.kind)
})
</script>

<template>
  <p v-if="!sizing.trials.length" class="muted empty">
    The trials appear here: the hand calculation proposes, field solves correct it until what is solved is what is asked for.
  </p>
  <div v-else class="both">
    <v-table density="compact" class="dense table" fixed-header data-test="trials">
      <thead>
        <tr>
          <th>#</th>
          <th v-for="(one, i) in varied" :key="i" class="number">{{ sizing.titleOf(one) }}</th>
          <template v-for="one in quantities" :key="one.name">
            <th class="number">{{ one.name }}, by hand</th>
            <th class="number">solved</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(t, i) in sizing.trials" :key="i">
          <td>{{ i + 1 }}</td>
          <td v-for="(text, k) in t.values" :key="k" class="number">{{ text }}</td>
          <template v-for="(one, k) in quantities" :key="k">
            <td class="number muted">{{ t.hand[k] == null ? '' : units.withUnit(t.hand[k], one.kind) }}</td>
            <td class="number">
              <b>{{ units.withUnit(t.solved[k] ?? null, one.kind) }}</b>
            </td>
          </template>
        </tr>
      </tbody>
    </v-table>
    <div class="plotted">
      <v-select
        v-if="quantities.length > 1"
        v-model="which"
        :items="quantities.map((one, i) => ({ value: i, title: one.name }))"
        aria-label="quantity"
      />
      <Plot
        :series="series"
        :x="along ? `${sizing.titleOf(along.varied[0]!)} ${units.label(along.kind)}` : 'trial'"
        :y="`${quantity?.name ?? ''} ${units.label(quantity?.kind ?? 'number')}`"
        :level="level"
        level-name="asked"
        name="sizing"
      />
    </div>
  </div>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px;
  flex: 1;
  min-height: 0;
}
.table {
  min-height: 0;
  overflow: auto;
}
.plotted .v-select {
  flex: none;
}
.plotted {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.plotted :deep(.plot) {
  flex: 1;
  display: flex;
}
.empty {
  margin: auto;
  max-width: 40em;
  text-align: center;
}
</style>
