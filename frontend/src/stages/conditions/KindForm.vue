<script setup lang="ts">
import { computed } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import type { Problem, Schemas } from '../../api/client'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { unitIn } from '../../quantity/entry'
import { holds } from './give'

/** The fields of one kind of condition, or of what stands in a stream, as the core describes them. */
type FormField = Schemas['Field']
type Fields = Record<string, unknown>

const props = withDefaults(
  defineProps<{
    subject: Fields
    /** Begins the ids of its fields. */
    prefix?: string
    form: Schemas['Form']
    /** Whether all chosen boundaries belong to fluids. */
    fluid: boolean
    /** Whether the section turns about an axis. */
    round: boolean
    bad: (field: string) => Problem | undefined
  }>(),
  { prefix: 'condition' },
)
const emit = defineEmits<{ change: [what: string, apply: (subject: Fields) => void] }>()
/** Units of bare numbers in the points of a curve. */
const CURVE_UNITS = ['m^3/h', 'Pa']
const theCase = useCase()
const units = useUnits()

const laminar = computed(() => theCase.document?.physics.flow === 'laminar')
const shown = computed(() =>
  props.form.fields.filter(
    (field) =>
      holds(props.subject, field.shown ?? {}) &&
      (props.fluid || !field.fluid_only) &&
      (props.round || !field.round_only) &&
      !(laminar.value && field.turbulent_only),
  ),
)
const materials = (solid: boolean) => [
  ...Object.keys(theCase.document?.materials ?? {}).map((key) => ({ key, label: key })),
  ...(units.catalogue?.materials ?? []).filter((m) => (m.state === 'solid') === solid),
]
const solids = computed(() => materials(true))
const fluids = computed(() => materials(false))
const tables = computed(() => Object.keys(theCase.document?.tables ?? {}))
const optionsOf = (field: FormField) => (field.options ?? []).filter((option) => !option.flat_only || !props.round)
const chosen = (field: FormField) => optionsOf(field).find((option) => holds(props.subject, option.when ?? {}))?.value ?? ''
const text = (field: string) => String(props.subject[field] ?? '')

/** The unit a bare number takes: the one there was, or that of the kind. */
const unitOf = (field: FormField) =>
  unitIn(text(field.field)) || (units.kinds.get(field.kind ?? '')?.unit ?? '').replace('deg', '°')

function choose(field: FormField, value: string): void {
  const option = optionsOf(field).find((o) => o.value === value)
  if (option) emit('change', field.field, (c) => Object.assign(c, option.gives))
}

/** A layer without a material is of the first thing that comes to mind. */
function setLayer(field: FormField, value: string): void {
  emit('change', field.field, (c) => {
    c[field.field] = value
    if (field.material && !c[field.material]) c[field.material] = 'ptfe'
  })
}

/** Points of a curve, one per line, `flow, rise`; a line that is none stays out until it is. */
const points = (field: string) => ((props.subject[field] as string[][] | undefined) ?? []).map((row) => row.join(', ')).join('\n')

function setPoints(field: FormField, text: string): void {
  const rows = text
    .split('\n')
    .map((line) => line.split(/[,;\t]/).map((cell) => cell.trim()))
    .filter((row) => row.length === 2 && row.every(Boolean))
    .map((row) => row.map((cell, k) => (/^[-+]?[\d.]+(e[-+]?\d+)?$/i.test(cell) ? `${cell} ${CURVE_UNITS[k]}` : cell)))
  emit('change', field.field, (c) => (c[field.field] = rows))
}

function turnRound(): void {
  emit('change', 'ends', (c) => ([c.boundaries, c.downstream] = [c.downstream, c.boundaries]))
}
</script>

<template>
  <template v-for="field in shown" :key="field.field + field.label">
    <p v-if="field.control === 'hint'" class="muted small hint">{{ field.label }}</p>
    <template v-else>
      <v-label :id="`${prefix}-${field.field}-label`" v-tip="field.title" :for="`${prefix}-${field.field}`">{{
        field.label
      }}</v-label>
      <v-select
        v-if="field.control === 'choice'"
        :id="`${prefix}-${field.field}`"
        :data-test="field.field"
        :model-value="chosen(field)"
        :items="optionsOf(field).map((option) => ({ value: option.value, title: option.label }))"
        @update:model-value="choose(field, $event)"
      />
      <span v-else-if="field.control === 'layer'" class="row">
        <QuantityField
          :id="`${prefix}-${field.field}`"
          :problem="bad(field.field)"
          :value="text(field.field)"
          :unit="unitOf(field)"
          :placeholder="field.placeholder"
          @enter="setLayer(field, $event)"
        />
        <v-select
          v-if="text(field.field) && field.material"
          :aria-label="`material of the ${field.label.toLowerCase()}`"
          :model-value="text(field.material)"
          :items="solids.map((m) => ({ value: m.key, title: m.label }))"
          @update:model-value="emit('change', field.material, (c) => (c[field.material!] = $event))"
        />
      </span>
      <span v-else-if="field.control === 'turn_round'" class="row">
        <QuantityField
          :id="`${prefix}-${field.field}`"
          v-tip="field.title"
          :problem="bad(field.field)"
          :value="text(field.field)"
          :unit="unitOf(field)"
          @enter="emit('change', field.field, (c) => (c[field.field] = $event))"
        />
        <v-btn v-tip="'let the stream go the other way'" variant="text" size="small" data-test="turn-stream" @click="turnRound"
          >turn round</v-btn
        >
      </span>
      <v-select
        v-else-if="field.control === 'table' || field.control === 'material'"
        :id="`${prefix}-${field.field}`"
        :data-test="field.field"
        :model-value="text(field.field)"
        :items="
          field.control === 'table'
            ? tables
            : [
                { value: '', title: field.placeholder },
                ...(field.fluids ? fluids : solids).map((m) => ({ value: m.key, title: m.label })),
              ]
        "
        :error-messages="bad(field.field)?.problem"
        @update:model-value="emit('change', field.field, (c) => (c[field.field] = $event))"
      />
      <v-checkbox
        v-else-if="field.control === 'switch'"
        :id="`${prefix}-${field.field}`"
        :data-test="field.field"
        :model-value="Boolean(subject[field.field])"
        @update:model-value="emit('change', field.field, (c) => (c[field.field] = Boolean($event)))"
      />
      <v-textarea
        v-else-if="field.control === 'points'"
        :id="`${prefix}-${field.field}`"
        :key="points(field.field)"
        class="points"
        rows="3"
        :data-test="field.field"
        :model-value="points(field.field)"
        :error-messages="bad(field.field)?.problem"
        placeholder="one point per line"
        spellcheck="false"
        @change="setPoints(field, ($event.target as HTMLTextAreaElement).value)"
      />
      <QuantityField
        v-else
        :id="`${prefix}-${field.field}`"
        :problem="bad(field.field)"
        :value="text(field.field)"
        :unit="unitOf(field)"
        :placeholder="field.placeholder"
        @enter="emit('change', field.field, (c) => (c[field.field] = $event))"
      />
    </template>
  </template>
</template>

<style scoped>
.hint {
  grid-column: 1 / -1;
  margin: 0;
}
.points {
  min-width: 150px;
}
</style>
