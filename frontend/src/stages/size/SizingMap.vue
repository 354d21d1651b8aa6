<script setup lang="ts">
import { computed } from 'vue'

import PlaneMap, { type Border, type MapAxis } from '../../desk/PlaneMap.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { nameOf, useSizing } from '../../stores/sizing'
import { finer } from './finer'

/** Where all goals can be met, over two of what is chosen: shaded by what is to be best, with the border of each goal. */
const theCase = useCase()
const sizing = useSizing()
const units = useUnits()
const FINER = 6
const found = computed(() => sizing.map)
const plain = (values: (number | null)[]) => values.map((v) => v ?? NaN)
const axisOf = (k: number): MapAxis => {
  const one = found.value!.chosen[k]!
  const unit = units.kinds.get(one.kind)?.units.find((u) => u.unit === one.unit)
  const name = nameOf(one.varied[0]!)
  return {
    values: finer(plain(found.value!.places[k]!), FINER),
    title: [theCase.document?.inputs[name]?.label || name, unit?.label].filter(Boolean).join(', '),
    shown: (value) => (unit ? value / unit.factor - unit.offset : value),
    toSi: (shown) => (unit ? (shown + unit.offset) * unit.factor : shown),
  }
}
/** A quantity at many more places than were reckoned, between them. */
const sheet = (rows: (number | null)[][]): number[] => {
  const across = rows.map((row) => finer(plain(row), FINER))
  const columns = across[0]!.map((_, i) =>
    finer(
      across.map((row) => row[i]!),
      FINER,
    ),
  )
  return columns[0]!.flatMap((_, j) => columns.map((column) => column[j]!))
}
const shaded = computed(() => {
  const missing = sheet(found.value!.missing)
  const hasAim = found.value!.aim !== null
  const values = hasAim ? sheet(found.value!.aims) : missing.map((m) => -m)
  return values.map((v, i) => (missing[i]! <= 1e-3 && Number.isFinite(v) ? v : null))
})
const anywhere = computed(() => shaded.value.some((v) => v !== null))
const borders = computed<Border[]>(() =>
  found.value!.goals.flatMap((goal) =>
    [goal.lower, goal.upper]
      .filter((end): end is number => end !== null)
      .map((end) => ({ values: sheet(goal.values), level: end, label: `${goal.name} ${units.withUnit(end, goal.kind)}` })),
  ),
)
const kind = computed(() => found.value?.aim?.kind || 'number')
/** Trials and the answer where they lie on the map. */
const places = computed(() => {
  const at = found.value!.chosen.map((one) =>
    (sizing.found?.chosen ?? []).findIndex((c) => nameOf(c.varied[0]!) === nameOf(one.varied[0]!)),
  )
  if (at.some((i) => i < 0)) return []
  return sizing.trials.map((t, i) => ({ x: t.place[at[0]!]!, y: t.place[at[1]!]!, number: i + 1, values: t.values }))
})
const best = computed(() => places.value.findIndex((p) => JSON.stringify(p.values) === JSON.stringify(sizing.found?.values)))
const choices = computed(() => sizing.numbers.map((i) => ({ value: i, title: sizing.titleOf(sizing.wish.chosen[i]!.varied[0]!) })))
</script>

<template>
  <div class="map" data-test="sizing-map">
    <div class="row small">
      <template v-if="choices.length > 2">
        <v-select
          :model-value="sizing.axes[0]"
          :items="choices.filter((c) => c.value !== sizing.axes[1])"
          aria-label="across"
          @update:model-value="sizing.axes = [$event, sizing.axes[1]]"
        />
        <v-select
          :model-value="sizing.axes[1]"
          :items="choices.filter((c) => c.value !== sizing.axes[0])"
          aria-label="up"
          @update:model-value="sizing.axes = [sizing.axes[0], $event]"
        />
      </template>
      <span v-if="found" class="muted">
        {{
          anywhere
            ? found.aim
              ? `${found.aim.label} where all goals are met`
              : 'where all goals are met'
            : 'Nowhere between these bounds are all goals met'
        }}, by hand{{ found.trials ? `, corrected by ${found.trials} field solve${found.trials > 1 ? 's' : ''}` : '' }}; lines are
        the borders of each goal.
      </span>
    </div>
    <p v-if="!found" class="muted empty">
      {{ sizing.problems.length ? 'What is asked for cannot be read yet: see below.' : 'reckoning where all goals can be met…' }}
    </p>
    <PlaneMap
      v-else
      v-slot="{ px, py }"
      :x="axisOf(0)"
      :y="axisOf(1)"
      :values="shaded"
      :kind="kind"
      :name="found.aim?.label ?? 'goals'"
      :borders="borders"
    >
      <circle
        v-for="(p, i) in places"
        :key="i"
        :cx="px(p.x)"
        :cy="py(p.y)"
        :r="i === best ? 6 : 3.2"
        :class="{ solved: true, picked: i === best }"
        :aria-label="`trial ${p.number}: ${p.values.join(', ')}`"
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
.empty {
  margin: auto;
}
</style>
