<script setup lang="ts">
import type { Schemas } from '../api/client'
import { useUnits } from '../quantity/units'
import MiniSketch from '../sketch/MiniSketch.vue'

/** A case on the home page: its sketch and its key answers. */
defineProps<{ card: Schemas['CaseCardOut']; picked: boolean }>()
const emit = defineEmits<{ open: []; copy: []; remove: []; pick: [picked: boolean] }>()
const units = useUnits()
const states: Record<string, string> = {
  done: 'solved',
  queued: 'waiting',
  running: 'running',
  failed: 'failed',
  stopped: 'stopped',
}
</script>

<template>
  <article class="sheet card">
    <v-card tag="button" class="open" variant="text" :border="false" :data-open="card.title" @click="emit('open')">
      <h2 class="pad-title">{{ card.title }}</h2>
      <p v-if="card.unreadable" class="fault small why" data-test="unreadable">cannot be read: {{ card.unreadable }}</p>
      <MiniSketch v-else class="picture" :sketch="card.sketch" :width="360" :height="92" />
      <v-table class="dense">
        <tbody>
          <tr v-for="row in card.ledger.slice(0, 4)" :key="row.name">
            <td>{{ row.name }}</td>
            <td class="number">
              <b>{{ units.withUnit(row.value, row.kind) }}</b>
            </td>
            <td class="number muted small">{{ row.solved !== null ? 'solved' : 'by hand' }}</td>
          </tr>
        </tbody>
      </v-table>
    </v-card>
    <footer class="row small muted">
      <span v-if="card.unreadable"
        ><v-btn variant="text" size="small" :href="`/api/cases/${card.id}/case.json`">download the document</v-btn> or open it and
        take an earlier save</span
      >
      <span v-else>{{
        card.problems
          ? card.problems === 1
            ? '1 problem'
            : `${card.problems} problems`
          : card.run_state
            ? states[card.run_state]
            : 'not solved yet'
      }}</span>
      <span class="grow"></span>
      <v-checkbox
        v-if="card.solved_run"
        v-tip="'tick two to six cases to see them side by side'"
        :model-value="picked"
        label="compare"
        :aria-label="`compare ${card.title}`"
        :data-compare="card.title"
        @update:model-value="emit('pick', Boolean($event))"
      />
      <v-btn variant="text" size="small" :aria-label="`copy ${card.title}`" @click="emit('copy')">copy</v-btn>
      <v-btn variant="text" size="small" :aria-label="`delete ${card.title}`" @click="emit('remove')">delete</v-btn>
    </footer>
  </article>
</template>

<style scoped>
.card {
  padding: 0;
}
.open {
  padding: 12px 14px 6px;
  flex: 1;
  display: flex;
  flex-direction: column;
}
.card:hover {
  border-color: var(--heat);
}
.why {
  white-space: normal;
  text-align: left;
}
.picture {
  width: 100%;
  margin: 4px 0 8px;
}
footer {
  padding: 2px 14px 6px;
}
h2 {
  margin: 0;
}
</style>
