<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Problem } from '../api/client'
import { focusNext } from '../pad/moving'
import { withDefaultUnit } from './entry'

/**
 * The field for a number with a unit or an expression. While it is live the case follows every key, with the unit the field has for a
 * bare number; `name = 12 mm`, which makes an input, is taken when the entry is finished, as is everything in a field that is not live.
 */
const props = withDefaults(
  defineProps<{ value?: string; unit?: string; problem?: Problem; placeholder?: string; live?: boolean; says?: string }>(),
  {
    value: '',
    unit: '',
    problem: undefined,
    placeholder: '',
    says: '',
  },
)
const emit = defineEmits<{ enter: [text: string] }>()

/** What is being typed stays as it is typed; the document has it with its unit. */
const typed = ref<string | null>(null)
const error = computed(() => (props.problem ? `${props.problem.problem}; ${props.problem.remedy}` : undefined))

function type(text: string): void {
  typed.value = text
  if (props.live && !text.includes('=')) emit('enter', withDefaultUnit(text, props.unit))
}

function leave(): void {
  const text = typed.value
  typed.value = null
  if (text === null || text === props.value) return
  if (!props.live) emit('enter', withDefaultUnit(text, props.unit))
  else if (text.includes('=')) emit('enter', text)
}

/** Leave the field, and what is not in the case yet with it. */
function giveUp(field: HTMLElement): void {
  typed.value = null
  field.blur()
}
</script>

<template>
  <v-text-field
    :model-value="typed ?? value"
    :placeholder="placeholder"
    :error-messages="error"
    :messages="says || undefined"
    autocomplete="off"
    spellcheck="false"
    :data-typing="!live && typed !== null && typed !== value ? '' : undefined"
    @update:model-value="type"
    @blur="leave"
    @keydown.enter.exact="focusNext($event.target as HTMLElement)"
    @keydown.esc="giveUp($event.target as HTMLElement)"
  />
</template>
