<script setup lang="ts">
import { computed } from 'vue'

import { idOf, type Key } from '../../quantity/keys'
import QuantityField from '../../quantity/QuantityField.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** What the next run follows, and rules by which it ends before its end: a quantity that moves less than so much, for so long. */
const theCase = useCase()
const units = useUnits()
const rules = computed(() => theCase.document?.solve.stops ?? [])
const timed = computed(() => theCase.document?.physics.regime === 'time')
const offered = computed(() => theCase.ledger.filter((row) => row.kind !== 'time'))
const nameOf = (key: Key) => offered.value.find((row) => idOf(row.key) === idOf(key))?.name ?? key.place
const kindOf = (key: Key) => offered.value.find((row) => idOf(row.key) === idOf(key))?.kind ?? 'number'
const unitOf = (key: Key) => (kindOf(key) === 'temperature' ? 'K' : units.label(kindOf(key)))
const MOST = 6

/** Quantities that are followed; the program chooses those that tell most when there are none. */
const MOST_WATCHED = 12
const watched = computed(() =>
  (theCase.document?.watches ?? []).flatMap((key) =>
    offered.value.filter((row) => idOf(row.key) === idOf(key)).map((row) => row.name),
  ),
)
function watchThese(names: string[]): void {
  const keys = names.slice(-MOST_WATCHED).flatMap((name) => offered.value.filter((row) => row.name === name).map((row) => row.key))
  theCase.edit('watches', (d) => (d.watches = keys))
}

function add(): void {
  const row = offered.value.find((one) => one.wanted) ?? offered.value[0]
  if (!row) return
  const change = `${row.kind === 'temperature' ? 0.01 : 0.001} ${unitOf(row.key)}`.trim()
  theCase.edit(`solve.stops.add ${Date.now()}`, (d) =>
    (d.solve.stops ??= []).push({ key: row.key, change, over: timed.value ? '60 s' : '50' }),
  )
}

function set(index: number, change: Partial<{ key: Key; change: string; over: string }>): void {
  theCase.edit(`solve.stops.${index}.${Object.keys(change).join()}`, (d) => Object.assign(d.solve.stops![index]!, change))
}

function choose(index: number, name: string): void {
  const row = offered.value.find((one) => one.name === name)
  if (row) set(index, { key: row.key, change: `0.01 ${unitOf(row.key)}`.trim() })
}
const problemAt = (index: number, field: string) => theCase.problemOf(`solve.stops[${index}].${field}`)
</script>

<template>
  <div class="form">
    <v-label id="watches-label" v-tip="'quantities that the next run follows'" for="watches">Follow</v-label>
    <v-select
      id="watches"
      :model-value="watched"
      multiple
      placeholder="what tells most"
      data-test="watches"
      :items="offered.map((row) => row.name)"
      @update:model-value="watchThese($event)"
    >
      <template #selection="{ item, index }">
        <span v-if="index === 0">{{ watched.length > 1 ? `${watched.length} quantities` : item }}</span>
      </template>
    </v-select>
  </div>
  <div class="rules" data-test="stop-rules">
    <div v-for="(rule, i) in rules" :key="i" class="rule">
      <v-select
        :model-value="nameOf(rule.key)"
        :items="offered.map((row) => row.name)"
        :aria-label="`quantity of rule ${i + 1}`"
        @update:model-value="choose(i, $event)"
      />
      <span class="muted small">moves less than</span>
      <QuantityField
        :value="rule.change"
        :unit="unitOf(rule.key)"
        :problem="problemAt(i, 'change')"
        :aria-label="`change of rule ${i + 1}`"
        @enter="set(i, { change: $event })"
      />
      <span class="muted small">{{ timed ? 'over (60 s, or steps)' : 'over steps' }}</span>
      <QuantityField
        :value="rule.over"
        :problem="problemAt(i, 'over')"
        :aria-label="`over how long, rule ${i + 1}`"
        @enter="set(i, { over: $event })"
      />
      <v-btn
        variant="text"
        size="small"
        :aria-label="`take out rule ${i + 1}`"
        @click="theCase.edit(`solve.stops.remove ${i}`, (d) => d.solve.stops!.splice(i, 1))"
        >×</v-btn
      >
    </div>
    <v-btn
      v-if="rules.length < MOST"
      v-tip="'end before its end when a quantity has stopped moving; all rules must hold'"
      variant="text"
      size="small"
      data-test="add-stop-rule"
      :disabled="!offered.length"
      @click="add"
      >{{ rules.length ? 'another rule' : 'end early when …' }}</v-btn
    >
  </div>
</template>

<style scoped>
.form {
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 6px;
}
.rules {
  margin-top: 4px;
}
.rule {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr) 24px;
  gap: 0 6px;
  align-items: center;
  border-top: 1px solid var(--hair);
  padding: 4px 0;
}
.rule > :first-child {
  grid-column: 1 / 3;
}
.rule > .small {
  grid-column: 1;
}
.rule > .v-text-field {
  grid-column: 2 / 4;
}
.rule > .v-btn {
  grid-column: 3;
  grid-row: 1;
}
</style>
