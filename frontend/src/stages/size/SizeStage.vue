<script setup lang="ts">
import { computed } from 'vue'

import Plot, { type Series } from '../../desk/Plot.vue'
import { idOf, isOf } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { isOver, useCase } from '../../stores/case'

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
const applied = computed(() => sizing.value !== null && theCase.document?.inputs[sizing.value.task.input]?.value === sizing.value.value)
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
    <button v-if="running" class="pad-button" @click="theCase.stop(run)">Stop</button>
    <button v-else class="pad-button main" data-test="size" :disabled="theCase.problems.length > 0" @click="theCase.start('sizing')">Find it</button>
  </h2>
  <div class="columns">
    <div class="scroll">
      <div class="form">
        <label for="size-input">Find</label>
        <select id="size-input" class="pad-select" :value="wish?.input" @change="set('input', ($event.target as HTMLSelectElement).value)"><option v-for="[name, it] in inputs" :key="name" :value="name">{{ it.label || name }}</option></select>
        <label for="size-quantity">so that</label>
        <select id="size-quantity" class="pad-select" :value="idOf(asked?.key)" @change="ask(($event.target as HTMLSelectElement).value)"><option v-for="row in quantities" :key="idOf(row.key)" :value="idOf(row.key)">{{ row.name }}</option></select>
        <label for="size-target">is</label>
        <input id="size-target" class="pad-input" :value="wish?.target" data-test="size-target" @change="set('target', ($event.target as HTMLInputElement).value)" />
        <label for="size-lower">between</label>
        <span class="row">
          <input id="size-lower" class="pad-input" :value="wish?.lower" :placeholder="bounds?.lower" @change="set('lower', ($event.target as HTMLInputElement).value)" />
          <span class="muted">and</span>
          <input class="pad-input" aria-label="upper bound" :value="wish?.upper" :placeholder="bounds?.upper" @change="set('upper', ($event.target as HTMLInputElement).value)" />
        </span>
      </div>
      <p v-if="running" role="status"><progress :value="Number(run?.progress.fraction ?? 0)" max="1"></progress><br /><span class="small">{{ run?.state === 'queued' ? 'waiting for the worker' : run?.progress.stage }}</span></p>
      <template v-else-if="sizing">
        <p :class="sizing.outcome === 'met' ? 'good' : 'doubt'" data-test="sizing-answer">{{ sizing.text }}</p>
        <ul v-if="sizing.suggestions.length"><li v-for="s in sizing.suggestions" :key="s">{{ s }}</li></ul>
        <p v-if="!applied"><button class="pad-button" data-test="apply-size" @click="apply">Take {{ sizing.value }} into Given</button></p>
        <p v-else class="muted small">Given holds this value.</p>
      </template>
      <p v-else-if="run?.state === 'failed'" class="fault" role="alert">{{ run.failure?.problem }}; {{ run.failure?.remedy }}</p>
      <ul v-if="theCase.runError" class="fault" role="alert"><li v-for="p in theCase.runError.problems" :key="p.field">{{ p.problem }}; {{ p.remedy }}</li></ul>
    </div>
    <Plot v-if="trials.length" :series="series" :x="`${wish?.input} ${units.label(inputKind)}`" :y="`${asked?.name ?? ''} ${units.label(quantityKind)}`" :level="level" level-name="wanted" name="sizing" />
    <p v-else class="muted">The trials appear here: the hand calculation proposes, field solves correct it until the solved value is the wanted one.</p>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: 212px minmax(0, 1fr); gap: 10px; min-height: 0; flex: 1; }
.columns > .plot { display: flex; }
.form { grid-template-columns: max-content minmax(0, 1fr); gap: 4px 8px; }
p { margin: 8px 0 0; }
ul { margin: 4px 0 0; padding-left: 16px; }
progress { width: 100%; accent-color: var(--heat); height: 8px; }
</style>
