<script setup lang="ts">
import { computed, ref } from 'vue'

import { useCase } from '../stores/case'
import { withDefaultUnit } from './entry'

/** A field of the document that takes a number with a unit or an expression; `name = 12 mm` makes an input of it. */
const props = withDefaults(defineProps<{ path: string; value: string | undefined; label: string; kind?: string; unit?: string; placeholder?: string }>(), { kind: 'length', unit: 'mm', placeholder: '' })
const theCase = useCase()
const problem = computed(() => theCase.problemOf(props.path))
const UNIT = /([a-zA-Z%°/²^*0-9-]+)\s*$/
/** The unit the field has now, for a bare number. */
const own = computed(() => (/^\s*[-+]?[\d.]/.test(props.value ?? '') ? (UNIT.exec((props.value ?? '').replace(/^\s*[-+]?[\d.]+(?:[eE][-+]?\d+)?\s*/, ''))?.[1] ?? props.unit) : props.unit))

/** What is being typed stays as it is typed; the document has it with its unit. */
const typed = ref<string | null>(null)

function type(event: Event): void {
  const text = (event.target as HTMLInputElement).value
  typed.value = text
  if (!text.includes('=')) theCase.setText(props.path, withDefaultUnit(text, own.value), props.kind, props.unit)
}

function leave(): void {
  if (typed.value?.includes('=')) theCase.setText(props.path, typed.value, props.kind, props.unit)
  typed.value = null
}
</script>

<template>
  <input
    class="pad-input"
    :class="{ bad: problem }"
    :value="typed ?? value ?? ''"
    :aria-label="label"
    :placeholder="placeholder"
    :title="problem ? `${problem.problem}; ${problem.remedy}` : `${label}: ${value || placeholder || 'empty'}\nname = 12 mm makes it an input`"
    :data-path="path"
    autocomplete="off"
    spellcheck="false"
    @input="type"
    @blur="leave"
    @keydown.enter="($event.target as HTMLInputElement).blur()"
  />
</template>
