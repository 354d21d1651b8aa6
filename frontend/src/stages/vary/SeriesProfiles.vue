<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take } from '../../api/client'
import Plot, { type Series } from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { useLines, readLineAt, type LineAt } from '../../stores/lines'
import { useSeries } from '../../stores/series'
import { curvesOf } from '../read/curves'

/** Profiles of all solved points over each other, along one of the case's lines. */
const lines = useLines()
const series = useSeries()
const units = useUnits()
const name = ref('')
const field = ref('temperature')
const line = computed(() => lines.lines.find((one) => one.name === name.value) ?? lines.lines[0] ?? null)
const solved = computed(() => (series.shown?.points ?? []).filter((p) => p.state === 'done' && p.run))
const MOST = 24
const found = shallowRef(new Map<number, LineAt>())
const problem = ref('')
let asked = 0
let knownOf: typeof line.value = null
watch(
  [line, () => solved.value.map((p) => p.run).join()],
  async ([now]) => {
    const mine = ++asked
    if (!now) return
    const known = now === knownOf ? found.value : new Map<number, LineAt>()
    knownOf = now
    for (const point of solved.value.slice(0, MOST)) {
      if (!point.run || known.has(point.run)) continue
      try {
        const body = { lines: [now], frames: [], reference: '' as const }
        const [answer] = await take(api.POST('/api/runs/{run}/lines', { params: { path: { run: point.run } }, body }))
        if (mine !== asked) return
        if (answer?.problem) problem.value = answer.problem
        else if (answer?.at[0]) known.set(point.run, readLineAt(answer.at[0]))
        found.value = new Map(known)
      } catch (error) {
        problem.value = error instanceof Error ? error.message : String(error)
        return
      }
    }
  },
  { immediate: true },
)
const offered = computed(() => {
  const names = new Set<string>()
  for (const at of found.value.values()) for (const p of at.profiles) for (const one of p.fields.keys()) names.add(one)
  return [...names]
})
const curves = computed(() =>
  solved.value.flatMap((point) => {
    const at = point.run ? found.value.get(point.run) : undefined
    return at && line.value ? curvesOf(at, line.value.name, field.value, 'along', 'plain', point.values.join(', ')) : []
  }),
)
const kind = computed(() => curves.value[0]?.kind ?? 'number')
const plotted = computed<Series[]>(() =>
  curves.value.map((curve) => ({
    name: curve.name.slice((line.value?.name.length ?? 0) + 2) || curve.name,
    points: curve.x.flatMap((x, k): [number, number][] =>
      Number.isFinite(curve.y[k]!) ? [[units.shown(x, 'length'), units.shown(curve.y[k]!, kind.value)]] : [],
    ),
  })),
)
</script>

<template>
  <div class="profiles">
    <div class="row">
      <v-select
        :model-value="line?.name"
        :items="lines.lines.map((one) => one.name)"
        aria-label="line"
        data-test="profile-line"
        @update:model-value="name = $event"
      />
      <v-select v-model="field" :items="offered.length ? offered : [field]" aria-label="field of the profiles" />
    </div>
    <p v-if="!line" class="muted">The case has no line yet: draw one under Read, and every point shows it.</p>
    <p v-else-if="problem" class="fault" role="alert">{{ problem }}</p>
    <Plot
      v-if="line"
      :series="plotted"
      :x="`along ${line.name}, ${units.label('length')}`"
      :y="[field, units.label(kind)].filter(Boolean).join(', ')"
      name="profiles of the series"
    />
  </div>
</template>

<style scoped>
.profiles {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  min-width: 0;
}
.profiles > .plot {
  display: flex;
}
.profiles .v-select {
  max-width: 240px;
}
</style>
