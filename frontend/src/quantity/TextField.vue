<script setup lang="ts">
import { computed } from 'vue'

import { useCase } from '../stores/case'
import QuantityField from './QuantityField.vue'

/** A field of the document that takes a number with a unit or an expression; `name = 12 mm` makes an input of it. */
const props = withDefaults(
  defineProps<{ path: string; value: string | undefined; kind?: string; unit?: string; placeholder?: string }>(),
  { kind: 'length', unit: 'mm', placeholder: '' },
)
const theCase = useCase()
const UNIT = /([a-zA-Z%°/²^*0-9-]+)\s*$/
/** The unit the field has now, for a bare number. */
const own = computed(() =>
  /^\s*[-+]?[\d.]/.test(props.value ?? '')
    ? (UNIT.exec((props.value ?? '').replace(/^\s*[-+]?[\d.]+(?:[eE][-+]?\d+)?\s*/, ''))?.[1] ?? props.unit)
    : props.unit,
)
</script>

<template>
  <QuantityField
    live
    :value="value ?? ''"
    :unit="own"
    :problem="theCase.problemOf(path)"
    :placeholder="placeholder"
    :data-path="path"
    @enter="theCase.setText(path, $event, kind, unit)"
  />
</template>
