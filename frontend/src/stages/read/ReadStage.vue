<script setup lang="ts">
import { computed, ref } from 'vue'

import { useCase } from '../../stores/case'
import FansForm from './FansForm.vue'
import FieldForm from './FieldForm.vue'
import FlowForm from './FlowForm.vue'
import HandOn from './HandOn.vue'
import LinesForm from './LinesForm.vue'
import PlacesTable from './PlacesTable.vue'
import ProbesForm from './ProbesForm.vue'

/** Read: what lies in the drawing, lines and probes through it, what each place has, and what is handed on. */
const theCase = useCase()
/** What lies in the drawing; the stale case has its own words above. */
const readable = computed(() => theCase.readable)
const stale = computed(() => theCase.staleBecause.length > 0)
const TABS = { field: 'Field', flow: 'Flow', lines: 'Lines', probes: 'Probes', places: 'Places', fans: 'Fans', files: 'Hand on' }
const tab = ref<keyof typeof TABS>('field')
/** Fans have a place of their own where there are any. */
const tabs = computed(() => {
  const blown = (theCase.sketch?.parts ?? []).some((part) => part.internal?.kind === 'fan')
  return Object.entries(TABS).filter(([name]) => blown || name !== 'fans')
})
</script>

<template>
  <div v-if="!readable" class="row heading"><h2 class="pad-title">Read</h2></div>
  <div v-if="!theCase.solution && !theCase.readable" class="scroll muted">Nothing is solved yet: press 4, then Solve.</div>
  <div v-else-if="stale && !theCase.readable" class="scroll">
    <p>
      The case has changed since it was solved: <b>{{ theCase.staleBecause.join(', ') }}</b>. The fields belong to the case as it
      was, so they are not laid into this drawing.
    </p>
    <p v-if="theCase.busy" role="status">
      <v-progress-linear :model-value="100 * Number(theCase.run?.progress.fraction ?? 0)" aria-label="progress of the run" />
      {{ theCase.run?.progress.stage }}
    </p>
    <v-btn v-else color="primary" variant="flat" :disabled="theCase.problems.length > 0" @click="theCase.start('solve')"
      >Solve again</v-btn
    >
  </div>
  <template v-else-if="readable">
    <div class="row heading">
      <h2 class="pad-title">Read</h2>
      <v-tabs v-model="tab" density="compact" height="26" hide-slider aria-label="what is read">
        <v-tab v-for="[name, title] in tabs" :key="name" :value="name" :data-test="`read-${name}`" :class="{ on: tab === name }">{{
          title
        }}</v-tab>
      </v-tabs>
    </div>
    <div class="scroll" data-test="read-form">
      <FieldForm v-if="tab === 'field'" />
      <FlowForm v-else-if="tab === 'flow'" />
      <LinesForm v-else-if="tab === 'lines'" />
      <ProbesForm v-else-if="tab === 'probes'" />
      <PlacesTable v-else-if="tab === 'places'" />
      <FansForm v-else-if="tab === 'fans'" />
      <HandOn v-else :run="readable" />
    </div>
  </template>
</template>

<style scoped>
.heading {
  flex: none;
  gap: 12px;
  margin-bottom: 4px;
}
.scroll > p {
  margin: 4px 0 8px;
}
</style>
