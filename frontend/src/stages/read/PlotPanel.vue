<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { useLines } from '../../stores/lines'
import { useProbes } from '../../stores/probes'
import LinesPlot from './LinesPlot.vue'
import ProbesPlot from './ProbesPlot.vue'

/** The plot beside or below the drawing: along lines, or of probes over time; one of both where there are both. */
defineProps<{ tall: boolean }>()
const lines = useLines()
const probes = useProbes()
const both = computed(() => lines.open && probes.course !== '')
const shown = ref<'lines' | 'probes'>(lines.open ? 'lines' : 'probes')
// What was asked for last is shown.
watch(
  () => lines.open,
  (open) => (shown.value = open ? 'lines' : 'probes'),
)
watch(
  () => probes.course,
  (course) => (shown.value = course ? 'probes' : 'lines'),
)
</script>

<template>
  <section class="panel" aria-label="plot" data-test="plot-panel">
    <v-tabs v-if="both" v-model="shown" density="compact" height="24" hide-slider aria-label="which plot">
      <v-tab value="lines" :class="{ on: shown === 'lines' }">along lines</v-tab>
      <v-tab value="probes" :class="{ on: shown === 'probes' }">probes over time</v-tab>
    </v-tabs>
    <LinesPlot v-if="lines.open && (shown === 'lines' || !both)" :tall="tall" />
    <ProbesPlot v-else />
  </section>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  min-width: 0;
  padding: 2px 4px 0;
}
.panel > .v-tabs {
  flex: none;
}
</style>
