<script setup lang="ts">
import { computed } from 'vue'

import TextField from '../../quantity/TextField.vue'
import { useCase } from '../../stores/case'

/** People at the probes: how they would judge the air there, by ISO 7730; told in the ledger for every probe. */
const theCase = useCase()
const comfort = computed(() => theCase.document?.reading?.comfort)
const FIELDS = [
  ['activity', 'activity, met', 'number', ''],
  ['clothing', 'clothing, clo', 'number', ''],
  ['humidity', 'humidity', 'ratio', 'percent'],
  ['radiant', 'radiant temperature', 'temperature', 'degC'],
] as const

function ask(asked: boolean): void {
  theCase.edit('reading.comfort', (d) => {
    if (!d.reading) return
    d.reading.comfort = asked ? { activity: '1.2', clothing: '0.5', humidity: '50 percent', radiant: '' } : null
  })
}
</script>

<template>
  <div class="comfort">
    <v-checkbox
      v-tip="'mean vote, share dissatisfied and draught at every probe, by ISO 7730; solve again to have them'"
      :model-value="Boolean(comfort)"
      label="people at the probes"
      data-test="comfort"
      @update:model-value="ask(Boolean($event))"
    />
    <template v-if="comfort">
      <template v-for="[field, label, kind, unit] in FIELDS" :key="field">
        <span class="label">{{ label }}</span>
        <TextField
          :path="`reading.comfort.${field}`"
          :value="comfort[field] ?? ''"
          :aria-label="label"
          :kind="kind"
          :unit="unit"
          :placeholder="field === 'radiant' ? 'of what is around' : ''"
        />
      </template>
    </template>
  </div>
</template>

<style scoped>
.comfort {
  display: grid;
  grid-template-columns: max-content minmax(70px, 1fr) max-content minmax(70px, 1fr);
  gap: 2px 8px;
  align-items: center;
  margin-top: 8px;
}
.comfort > :first-child {
  grid-column: 1 / -1;
}
.label {
  color: var(--muted);
  font-size: var(--size-small);
}
</style>
