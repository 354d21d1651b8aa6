<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../../api/client'
import { useSizing } from '../../stores/sizing'

/** Values that were found: taken into Given in one step, or said to be there. */
const props = defineProps<{ chosen: Schemas['ChosenOut'][]; values: string[]; test: string }>()
const sizing = useSizing()
const held = computed(() => sizing.holds(props.chosen, props.values))
</script>

<template>
  <p v-if="held" class="muted small">Given holds {{ values.length > 1 ? 'these values' : 'this value' }}.</p>
  <p v-else>
    <v-btn :data-test="test" @click="sizing.takeInto(chosen, values)">Take {{ values.join(', ') }} into Given</v-btn>
  </p>
</template>

<style scoped>
p {
  margin: 4px 0 8px;
}
</style>
