<script setup lang="ts">
import type { Run } from '../../api/client'
import { useReading } from '../../stores/reading'

/** Files of what is read. */
defineProps<{ run: Run }>()
const reading = useReading()
</script>

<template>
  <div class="form">
    <span class="label">Fields</span>
    <span class="row files">
      <v-btn
        v-tip="'VTU, of what is shown'"
        variant="text"
        size="small"
        :href="`/api/runs/${run.id}/fields.vtu?frame=${reading.frameNumber}`"
        >fields</v-btn
      >
    </span>
    <span class="label">Tables</span>
    <span class="row files">
      <v-btn
        v-if="reading.frames.length > 1"
        v-tip="'CSV, watched quantities over time'"
        variant="text"
        size="small"
        :href="`/api/runs/${run.id}/history.csv`"
        >history</v-btn
      >
      <template v-if="run.ledger.length">
        <v-btn v-tip="'CSV, all quantities'" variant="text" size="small" :href="`/api/runs/${run.id}/ledger.csv`">table</v-btn>
        <v-btn v-tip="'JSON'" variant="text" size="small" :href="`/api/runs/${run.id}/ledger.json`">ledger</v-btn>
      </template>
      <v-btn v-tip="'JSON'" variant="text" size="small" :href="`/api/runs/${run.id}/case.json`">case</v-btn>
    </span>
  </div>
</template>

<style scoped>
.files {
  flex-wrap: wrap;
  gap: 0;
}
</style>
