<script setup lang="ts">
import { computed } from 'vue'

import type { Condition, Schemas } from '../../api/client'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { holds } from './give'

/** The fields of one kind of condition, as the core describes them. */
type FormField = Schemas['Field']
type Fields = Record<string, unknown>

const props = defineProps<{
  condition: Condition
  form: Schemas['Form']
  /** Whether all chosen boundaries belong to fluids. */
  fluid: boolean
  /** Whether the section turns about an axis. */
  round: boolean
  bad: (field: string) => unknown
}>()
const emit = defineEmits<{ change: [what: string, apply: (condition: Fields) => void] }>()
const theCase = useCase()
const units = useUnits()

const shown = computed(() => props.form.fields.filter((field) => holds(props.condition, field.shown ?? {}) && (props.fluid || !field.fluid_only)))
const solids = computed(() => [...Object.keys(theCase.document?.materials ?? {}).map((key) => ({ key, label: key })), ...(units.catalogue?.materials ?? []).filter((m) => m.state === 'solid')])
const optionsOf = (field: FormField) => (field.options ?? []).filter((option) => !option.flat_only || !props.round)
const chosen = (field: FormField) => optionsOf(field).find((option) => holds(props.condition, option.when ?? {}))?.value ?? ''
const text = (field: string) => String((props.condition as unknown as Fields)[field] ?? '')
const entered = (event: Event) => (event.target as HTMLInputElement).value

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

function turnRound(): void {
  emit('change', 'ends', (c) => ([c.boundaries, c.downstream] = [c.downstream, c.boundaries]))
}
</script>

<template>
  <template v-for="field in shown" :key="field.field + field.label">
    <p v-if="field.control === 'hint'" class="muted small hint">{{ field.label }}</p>
    <template v-else>
      <label :for="`condition-${field.field}`" :title="field.title">{{ field.label }}</label>
      <select v-if="field.control === 'choice'" :id="`condition-${field.field}`" class="pad-select" :data-test="field.field" :value="chosen(field)" @change="choose(field, entered($event))">
        <option v-for="option in optionsOf(field)" :key="option.value" :value="option.value">{{ option.label }}</option>
      </select>
      <span v-else-if="field.control === 'layer'" class="row">
        <input :id="`condition-${field.field}`" class="pad-input" :class="{ bad: bad(field.field) }" :value="text(field.field)" :placeholder="field.placeholder" @change="setLayer(field, entered($event))" />
        <select v-if="text(field.field) && field.material" class="pad-select" :aria-label="`material of the ${field.label.toLowerCase()}`" :value="text(field.material)" @change="emit('change', field.material, (c) => (c[field.material!] = entered($event)))">
          <option v-for="m in solids" :key="m.key" :value="m.key">{{ m.label }}</option>
        </select>
      </span>
      <span v-else-if="field.control === 'turn_round'" class="row">
        <input :id="`condition-${field.field}`" class="pad-input" :class="{ bad: bad(field.field) }" :value="text(field.field)" :title="field.title" @change="emit('change', field.field, (c) => (c[field.field] = entered($event)))" />
        <button class="pad-button quiet small" title="let the stream go the other way" data-test="turn-stream" @click="turnRound">turn round</button>
      </span>
      <input v-else :id="`condition-${field.field}`" class="pad-input" :class="{ bad: bad(field.field) }" :value="text(field.field)" :placeholder="field.placeholder" @change="emit('change', field.field, (c) => (c[field.field] = entered($event)))" />
    </template>
  </template>
</template>

<style scoped>
.hint { grid-column: 1 / -1; margin: 0; }
</style>
