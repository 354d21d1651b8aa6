<script setup lang="ts">
import { computed } from 'vue'

import type { Problem, Schemas } from '../api/client'
import { idOf, type Key } from '../quantity/keys'
import QuantityField from '../quantity/QuantityField.vue'
import { useUnits } from '../quantity/units'
import { useCase } from '../stores/case'

/** One question of a hand calculation, answered by an input, a part, a boundary, a choice or a quantity of the case. */
const props = defineProps<{ question: Schemas['Question']; value: unknown; at: string; problem?: Problem }>()
const emit = defineEmits<{ answer: [value: unknown] }>()
const theCase = useCase()
const units = useUnits()

const fluids = computed(() => new Set((theCase.sketch?.parts ?? []).filter((p) => p.fluid).map((p) => p.origin)))
const parts = computed(() =>
  (theCase.document?.section.parts ?? [])
    .filter((part) => part.material !== 'void')
    .map((part) => part.name)
    .filter((name) => !props.question.state || fluids.value.has(name) === (props.question.state === 'fluid')),
)
const none = computed(() => (props.question.empty === null ? [] : [{ value: '', title: props.question.empty ?? 'none' }]))
const boundaries = computed(() => [
  ...new Set((theCase.sketch?.boundaries ?? []).flatMap((b) => [b.general, b.name]).concat(text.value || [])),
])
const quantities = computed(() => {
  const now = props.value as Key | null
  const rows = theCase.ledger.map((row) => ({ value: idOf(row.key), title: row.name, key: row.key }))
  const places: Key[] = (theCase.document?.section.parts ?? []).map((part) => ({
    quantity: 'mean_temperature' as const,
    place: part.name,
    other: '',
    of: null,
  }))
  const more = places.map((key) => ({ value: idOf(key), title: `mean temperature of ${key.place}`, key }))
  const all = [
    ...rows,
    ...more,
    ...(now ? [{ value: idOf(now), title: `${now.quantity.replaceAll('_', ' ')} ${now.place}`, key: now }] : []),
  ]
  return all.filter((one, i) => all.findIndex((other) => other.value === one.value) === i)
})
const text = computed(() => (typeof props.value === 'string' ? props.value : ''))
const several = computed(() => (Array.isArray(props.value) ? (props.value as string[]) : []))
const known = (name: string) => ({ value: name, title: name })
/** What is chosen stays among the choices, also when the case has lost it. */
const withNow = (names: string[], now: string[]) => [...names, ...now.filter((name) => name && !names.includes(name))].map(known)
</script>

<template>
  <v-label :id="`${at}-label`" v-tip="question.title" :for="at">{{ question.label }}</v-label>
  <QuantityField
    v-if="question.control === 'entry'"
    :id="at"
    live
    :data-answer="question.field"
    :value="text"
    :unit="units.kinds.get(question.kind ?? '')?.unit.replace('deg', '°') ?? ''"
    :placeholder="question.empty ?? ''"
    :problem="problem"
    @enter="emit('answer', $event)"
  />
  <v-select
    v-else-if="question.control === 'part'"
    :id="at"
    :data-answer="question.field"
    :model-value="text"
    :items="[...none, ...withNow(parts, [text])]"
    :error-messages="problem && `${problem.problem}; ${problem.remedy}`"
    @update:model-value="emit('answer', $event)"
  />
  <v-select
    v-else-if="question.control === 'parts'"
    :id="at"
    :data-answer="question.field"
    multiple
    :model-value="several"
    :items="withNow(parts, several)"
    :error-messages="problem && `${problem.problem}; ${problem.remedy}`"
    @update:model-value="emit('answer', $event)"
  />
  <v-select
    v-else-if="question.control === 'boundary'"
    :id="at"
    :data-answer="question.field"
    :model-value="text"
    :items="[...none, ...boundaries.map(known)]"
    :error-messages="problem && `${problem.problem}; ${problem.remedy}`"
    @update:model-value="emit('answer', $event)"
  />
  <v-select
    v-else-if="question.control === 'choice'"
    :id="at"
    :data-answer="question.field"
    :model-value="text"
    :items="(question.choices ?? []).map((choice) => ({ value: choice.value, title: choice.label }))"
    @update:model-value="emit('answer', $event)"
  />
  <v-checkbox
    v-else-if="question.control === 'switch'"
    :id="at"
    :data-answer="question.field"
    :model-value="Boolean(value)"
    @update:model-value="emit('answer', Boolean($event))"
  />
  <v-select
    v-else-if="question.control === 'quantity'"
    :id="at"
    :data-answer="question.field"
    :model-value="idOf(value as Key | null)"
    :items="quantities"
    :error-messages="problem && `${problem.problem}; ${problem.remedy}`"
    @update:model-value="emit('answer', quantities.find((q) => q.value === $event)?.key ?? null)"
  />
</template>
