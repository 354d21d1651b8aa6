<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import Plot, { type Series } from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** What is watched while a case is solved: residuals, or quantities of up to two kinds, step by step or over time. */
const theCase = useCase()
const units = useUnits()
const RESIDUALS = 'residuals'
const shown = ref<string[]>([RESIDUALS])
const watches = computed(() => Object.keys((theCase.history.at(-1)?.watches as Record<string, number> | undefined) ?? {}))
/** Kinds of what is watched, told while a run goes on. */
const kinds = computed(() => (theCase.run?.progress.kinds as Record<string, string> | undefined) ?? {})
const kindOf = (name: string) => theCase.ledger.find((row) => row.name === name)?.kind ?? kinds.value[name] ?? 'number'

const residuals = computed(() => shown.value.includes(RESIDUALS) || !shown.value.length)
/** Where a row stands on the axis: its time, or its step. */
const timed = computed(() => theCase.history.length > 0 && typeof theCase.history[0]!.time === 'number')
const when = (row: Record<string, unknown>, i: number) => (timed.value ? units.shown(Number(row.time), 'time') : i + 1)
const chosen = computed(() => shown.value.filter((name) => watches.value.includes(name)))
const shownKinds = computed(() => [...new Set(chosen.value.map(kindOf))])

const series = computed<Series[]>(() => {
  if (residuals.value)
    return ['momentum', 'mass', 'energy', 'turbulence']
      .filter((name) => name !== 'turbulence' || theCase.history.some((row) => name in row))
      .map((name) => ({
        name,
        points: theCase.history.map((row, i): [number, number] => [i + 1, Number(row[name])]),
      }))
  return chosen.value.map((name) => {
    const kind = kindOf(name)
    const points = theCase.history.map((row, i): [number, number] => {
      const value = (row.watches as Record<string, number> | undefined)?.[name]
      return [when(row, i), value === undefined ? NaN : units.shown(value, kind)]
    })
    return {
      name,
      points: points.filter((p) => Number.isFinite(p[1])),
      marks: points.length < 40,
      second: kind !== shownKinds.value[0],
    }
  })
})
const nameOf = (kind: string | undefined, second: boolean) => {
  if (!kind) return ''
  const alone = chosen.value.filter((name) => kindOf(name) === kind)
  const word = alone.length === 1 && (second || chosen.value.length > 1) ? `${alone[0]!}, ` : ''
  return `${word}${units.label(kind)}`.replace(/, $/, '')
}
/** A limit of the one quantity that is shown. */
const limit = computed(() => {
  const row = chosen.value.length === 1 ? theCase.ledger.find((one) => one.name === chosen.value[0]) : undefined
  return row && row.target !== null ? units.shown(row.target, row.kind) : null
})

function choose(names: string[]): void {
  const last = names.at(-1)
  // Residuals stand alone; quantities of two kinds have two axes, and no third.
  if (last === RESIDUALS || !names.length) shown.value = [RESIDUALS]
  else {
    const quantities = names.filter((name) => name !== RESIDUALS)
    const own = [...new Set(quantities.map(kindOf))]
    shown.value = own.length <= 2 ? quantities : quantities.filter((name) => [own[0], kindOf(last!)].includes(kindOf(name)))
  }
}

// What matters in a run in time is how its quantities move.
watch(
  timed,
  (now) => {
    if (now && residuals.value && watches.value[0]) shown.value = [watches.value[0]]
  },
  { immediate: true },
)
</script>

<template>
  <div class="row follow">
    <v-label id="followed-label" for="followed">Watch</v-label>
    <v-select
      id="followed"
      :model-value="shown"
      multiple
      data-test="followed"
      :items="[RESIDUALS, ...watches]"
      @update:model-value="choose($event)"
    >
      <template #selection="{ item, index }">
        <span v-if="index === 0" class="chosen">{{ item }}{{ shown.length > 1 ? ` and ${shown.length - 1} more` : '' }}</span>
      </template>
    </v-select>
  </div>
  <Plot
    :series="series"
    :x="timed && !residuals ? `time, ${units.label('time')}` : 'step'"
    :y="residuals ? 'scaled residual' : nameOf(shownKinds[0], false)"
    :y2="nameOf(shownKinds[1], true)"
    :logarithmic="residuals"
    :level="residuals ? null : limit"
    level-name="wanted"
    :name="residuals ? RESIDUALS : chosen.join(', ')"
  />
</template>

<style scoped>
.follow {
  gap: 8px;
  color: var(--muted);
  flex: none;
}
.follow .v-label {
  flex: none;
}
.follow .v-select {
  min-width: 0;
  flex: 1;
}
.chosen {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
