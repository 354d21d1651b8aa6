<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { api, take } from '../../api/client'
import Plot, { type Series } from '../../desk/Plot.vue'
import { idOf, isOf, type Key } from '../../quantity/keys'
import QuantityField from '../../quantity/QuantityField.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** Vary: a hand-calculated quantity along the range of one input, with what has been solved on it. */
const theCase = useCase()
const units = useUnits()
const inputs = computed(() => Object.entries(theCase.document?.inputs ?? {}).filter(([, item]) => item.kind !== 'number'))
const input = ref(theCase.document?.sizing?.input || inputs.value[0]?.[0] || '')
const quantities = computed(() => theCase.ledger.filter((row) => row.by_hand !== null))
const chosen = ref<Key | null>(theCase.document?.sizing.key ?? null)
const row = computed(() => quantities.value.find((r) => isOf(r, chosen.value)) ?? quantities.value[0])
const lower = ref('')
const upper = ref('')
const points = ref<[number, number][]>([])
const error = ref('')
const item = computed(() => theCase.document?.inputs[input.value])
const kind = computed(() => row.value?.kind ?? 'number')
const choose = (id: string) => (chosen.value = quantities.value.find((r) => idOf(r.key) === id)?.key ?? null)
let asked = 0

async function load(): Promise<void> {
  if (!theCase.document || !input.value || !row.value) return
  const mine = ++asked
  try {
    const body = {
      document: theCase.document,
      input: input.value,
      key: row.value.key,
      lower: lower.value,
      upper: upper.value,
      count: 31,
    }
    const answer = await take(api.POST('/api/vary', { body }))
    if (mine !== asked) return
    points.value = answer.points as [number, number][]
    error.value = ''
  } catch (problem) {
    if (mine === asked) error.value = problem instanceof Error ? problem.message : String(problem)
  }
}
watch([input, () => idOf(row.value?.key), lower, upper, () => theCase.view], load, { immediate: true })
watch(input, () => {
  lower.value = upper.value = ''
})

const series = computed<Series[]>(() => {
  const k = item.value?.kind ?? 'number'
  const curve = points.value.map(([x, y]) => [units.shown(x, k), units.shown(y, kind.value)] as [number, number])
  const solved: [number, number][] = []
  const trials =
    (theCase.sizing?.summary.sizing as
      { task: { input: string; key: Key }; trials: { value: number; solved: number }[] } | undefined) ?? null
  if (
    trials &&
    trials.task.input === input.value &&
    idOf(trials.task.key) === idOf(row.value?.key) &&
    theCase.changedSince(theCase.sizing).every((name) => name === input.value)
  ) {
    for (const t of trials.trials) solved.push([units.shown(t.value, k), units.shown(t.solved, kind.value)])
  }
  const now = row.value
  const at = theCase.view?.inputs.find((i) => i.name === input.value)?.value
  if (now?.solved !== null && now?.solved !== undefined && at !== null && at !== undefined && !theCase.staleBecause.length)
    solved.push([units.shown(at, k), units.shown(now.solved, kind.value)])
  const result: Series[] = [{ name: 'by hand', points: curve, dashed: true }]
  if (solved.length) result.push({ name: 'solved', points: solved.sort((a, b) => a[0] - b[0]), marks: true })
  return result
})
</script>

<template>
  <h2>Vary <span class="muted small">by hand, at once; solved points where there are any</span></h2>
  <div class="columns">
    <div class="form">
      <v-label id="vary-input-label" for="vary-input">Input</v-label>
      <v-select id="vary-input" v-model="input" :items="inputs.map(([name, it]) => ({ value: name, title: it.label || name }))" />
      <v-label id="vary-lower-label" for="vary-lower">From</v-label
      ><QuantityField
        id="vary-lower"
        :value="lower"
        :unit="item?.unit"
        :placeholder="item?.lower || 'a twentieth'"
        @enter="lower = $event"
      />
      <v-label id="vary-upper-label" for="vary-upper">To</v-label
      ><QuantityField
        id="vary-upper"
        :value="upper"
        :unit="item?.unit"
        :placeholder="item?.upper || 'twenty times'"
        @enter="upper = $event"
      />
      <v-label id="vary-quantity-label" for="vary-quantity">Quantity</v-label>
      <v-select
        id="vary-quantity"
        :model-value="idOf(row?.key)"
        :items="quantities.map((r) => ({ value: idOf(r.key), title: r.name }))"
        @update:model-value="choose($event)"
      />
      <p v-if="error" class="fault small wide" role="alert">{{ error }}</p>
    </div>
    <Plot
      :series="series"
      :x="`${item?.label || input}, ${units.label(item?.kind ?? 'number')}`"
      :y="`${row?.name ?? ''} ${units.label(kind)}`"
      name="vary"
    />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 12px;
  min-height: 0;
  flex: 1;
}
.columns > .plot {
  display: flex;
}
.form {
  align-content: start;
  grid-template-columns: max-content minmax(0, 1fr);
}
.wide {
  grid-column: 1 / -1;
}
</style>
