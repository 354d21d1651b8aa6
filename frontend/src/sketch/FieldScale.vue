<script setup lang="ts">
import { computed } from 'vue'

import { useLook } from '../stores/look'
import { useReading } from '../stores/reading'
import ColourScale from './ColourScale.vue'

/** The scale of the field that is read on the desk. */
const reading = useReading()
const look = useLook()
const parts = computed(() => (reading.field ? [{ field: reading.field, areas: reading.areas }] : []))
</script>

<template>
  <ColourScale
    v-if="reading.field"
    :name="reading.field.name"
    :kind="reading.field.kind"
    :low="reading.field.low"
    :high="reading.field.high"
    :range="reading.range"
    :map="look.map"
    :bands="look.look === 'bands' ? look.levels : 0"
    :parts="parts"
    @range="(low, high) => reading.setRange(low, high)"
    @whole="reading.wholeRange()"
  />
</template>
