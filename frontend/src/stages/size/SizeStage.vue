<script setup lang="ts">
import { computed } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import Plot, { type Series } from '../../desk/Plot.vue'
import { unitIn } from '../../quantity/entry'
import { idOf, isOf } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { isOver, stageOf, useCase } from '../../stores/case'

/** Size: find one input for one wanted quantity, by hand first, then by a few field solves. */
interface Trial {
  value: number
  hand: number | null
  solved: number
}
interface Sizing {
  task: { input: string; target: number; kind: string; unit: string; quantity_kind: string }
  outcome: string
  text: string
  suggestions: string[]
  trials: Trial[]
  curve: [number, number][]
  value: string
}

const theCase = useCase()
const units = useUnits()
const wish = computed(() => theCase.document?.sizing)
const inputs = computed(() => Object.entries(theCase.document?.inputs ?? {}).filter(([, item]) => item.kind !== 'number'))
const quantities = computed(() => theCase.ledger.filter((row) => !['mass_balance', 'heat_balance'].includes(row.key.quantity)))
const asked = computed(() => quantities.value.find((row) => isOf(row, wish.value?.key)))
const run = computed(() => theCase.sizing)
const running = computed(() => run.value !== null && !isOver(run.value))
const sizing = computed(() => (run.value?.summary.sizing as Sizing | undefined) ?? null)
const trials = computed<Trial[]>(() => sizing.value?.trials ?? (run.value?.progress.trials as Trial[] | undefined) ?? [])
const applied = computed(
  () => sizing.value !== null && theCase.document?.inputs[sizing.value.task.input]?.value === sizing.value.value,
)
const inputKind = computed(() => theCase.document?.inputs[sizing.value?.task.input ?? wish.value?.input ?? '']?.kind ?? 'length')
const quantityKind = computed(() => sizing.value?.task.quantity_kind ?? asked.value?.kind ?? 'number')
const bounds = computed(() => theCase.document?.inputs[wish.value?.input ?? ''])

function set(what: 'input' | 'target' | 'lower' | 'upper', value: string): void {
  theCase.edit(`sizing.${what}`, (d) => {
    d.sizing[what] = value
    if (what === 'input') d.sizing.lower = d.sizing.upper = ''
  })
}

function ask(id: string): void {
  const row = quantities.value.find((q) => idOf(q.key) === id)
  if (row) theCase.edit('sizing.key', (d) => (d.sizing.key = row.key))
}

function apply(): void {
  const found = sizing.value
  if (found) theCase.setInput(found.task.input, found.value)
}

const series = computed<Series[]>(() => {
  const x = (v: number) => units.shown(v, inputKind.value)
  const y = (v: number) => units.shown(v, quantityKind.value)
  const result: Series[] = []
  if (sizing.value) result.push({ name: 'by hand', points: sizing.value.curve.map(([a, b]) => [x(a), y(b)]), dashed: true })
  result.push({ name: 'solved trials', points: trials.value.map((t) => [x(t.value), y(t.solved)]), marks: true })
  return result
})
const level = computed(() => (sizing.value ? units.shown(sizing.value.task.target, quantityKind.value) : null))
</script>

<template>
  <h2>
    Size
    <span class="grow"></span>
    <v-btn v-if="running" @click="theCase.stop(run)">Stop</v-btn>
    <v-btn
      v-else
      color="primary"
      variant="flat"
      data-test="size"
      :disabled="theCase.problems.length > 0"
      @click="theCase.start('sizing')"
      >Find it</v-btn
    >
  </h2>
  <div class="columns">
    <div class="scroll">
      <div class="form">
        <v-label id="size-input-label" for="size-input">Find</v-label>
        <v-select
          id="size-input"
          :model-value="wish?.input"
          :items="inputs.map(([name, it]) => ({ value: name, title: it.label || name }))"
          @update:model-value="set('input', $event)"
        />
        <v-label id="size-quantity-label" for="size-quantity">so that</v-label>
        <v-select
          id="size-quantity"
          :model-value="idOf(asked?.key)"
          :items="quantities.map((row) => ({ value: idOf(row.key), title: row.name }))"
          @update:model-value="ask($event)"
        />
        <v-label id="size-target-label" for="size-target">is</v-label>
        <QuantityField
          id="size-target"
          :value="wish?.target"
          :unit="unitIn(wish?.target ?? '') || units.label(asked?.kind ?? 'number')"
          data-test="size-target"
          @enter="set('target', $event)"
        />
        <v-label id="size-lower-label" for="size-lower">between</v-label>
        <span class="row">
          <QuantityField
            id="size-lower"
            :value="wish?.lower"
            :unit="bounds?.unit"
            :placeholder="bounds?.lower"
            @enter="set('lower', $event)"
          />
          <span class="muted">and</span>
          <QuantityField
            aria-label="upper bound"
            :value="wish?.upper"
            :unit="bounds?.unit"
            :placeholder="bounds?.upper"
            @enter="set('upper', $event)"
          />
        </span>
      </div>
      <p v-if="running" role="status">
        <v-progress-linear :model-value="100 * Number(run?.progress.fraction ?? 0)" aria-label="progress of the run" /><br /><span
          class="small"
          >{{ run ? stageOf(run) : '' }}</span
        >
      </p>
      <template v-else-if="sizing">
        <p :class="sizing.outcome === 'met' ? 'good' : 'doubt'" data-test="sizing-answer">{{ sizing.text }}</p>
        <ul v-if="sizing.suggestions.length">
          <li v-for="s in sizing.suggestions" :key="s">{{ s }}</li>
        </ul>
        <p v-if="!applied">
          <v-btn data-test="apply-size" @click="apply">Take {{ sizing.value }} into Given</v-btn>
        </p>
        <p v-else class="muted small">Given holds this value.</p>
      </template>
      <p v-else-if="run?.state === 'failed'" class="fault" role="alert">{{ run.failure?.problem }}; {{ run.failure?.remedy }}</p>
      <ul v-if="theCase.runError" class="fault" role="alert">
        <li v-for="p in theCase.runError.problems" :key="p.field">{{ p.problem }}; {{ p.remedy }}</li>
      </ul>
    </div>
    <Plot
      v-if="trials.length"
      :series="series"
      :x="`${wish?.input} ${units.label(inputKind)}`"
      :y="`${asked?.name ?? ''} ${units.label(quantityKind)}`"
      :level="level"
      level-name="wanted"
      name="sizing"
    />
    <p v-else class="muted">
      The trials appear here: the hand calculation proposes, field solves correct it until the solved value is the wanted one.
    </p>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 212px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
  flex: 1;
}
.columns > .plot {
  display: flex;
}
.form {
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 8px;
}
p {
  margin: 8px 0 0;
}
ul {
  margin: 4px 0 0;
  padding-left: 16px;
}
progress {
  width: 100%;
  accent-color: var(--heat);
  height: 8px;
}
</style>
