<script setup lang="ts">
import { computed } from 'vue'

import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useReading } from '../../stores/reading'
import PlacesTable from './PlacesTable.vue'

/** Read: which field lies in the drawing, and what each boundary, interface and part has. */
const theCase = useCase()
const reading = useReading()
const units = useUnits()
const stale = computed(() => theCase.staleBecause.length > 0)
</script>

<template>
  <h2>Read</h2>
  <div v-if="!theCase.solution" class="scroll muted">Nothing is solved yet: press 4, then Solve.</div>
  <div v-else-if="stale" class="scroll">
    <p>The case has changed since it was solved: <b>{{ theCase.staleBecause.join(', ') }}</b>. The fields belong to the case as it was, so they are not laid into this drawing.</p>
    <p v-if="theCase.busy" role="status"><progress :value="Number(theCase.run?.progress.fraction ?? 0)" max="1"></progress> {{ theCase.run?.progress.stage }}</p>
    <button v-else class="pad-button main" :disabled="theCase.problems.length > 0" @click="theCase.start('solve')">Solve again</button>
  </div>
  <div v-else class="columns">
    <div class="scroll">
      <div class="form">
        <label for="field">Field</label>
        <select id="field" v-model="reading.fieldName" class="pad-select" data-test="field">
          <option v-for="f in reading.fields" :key="f.name" :value="f.name">{{ f.name }}</option>
        </select>
        <label for="arrows">Velocity</label>
        <label class="row"><input id="arrows" v-model="reading.arrows" type="checkbox" /> arrows</label>
        <template v-if="reading.field">
          <label>Range</label><span>{{ units.format(reading.field.low, reading.field.kind, 4) }} to {{ units.withUnit(reading.field.high, reading.field.kind, 4) }}</span>
        </template>
        <label>Files</label>
        <span class="row files">
          <a class="pad-button quiet small" :href="`/api/runs/${theCase.solution.id}/fields.vtu`" title="VTU">fields</a>
          <a class="pad-button quiet small" :href="`/api/runs/${theCase.solution.id}/ledger.csv`" title="CSV, all quantities">table</a>
          <a class="pad-button quiet small" :href="`/api/runs/${theCase.solution.id}/ledger.json`" title="JSON">ledger</a>
          <a class="pad-button quiet small" :href="`/api/runs/${theCase.solution.id}/case.json`" title="JSON">case</a>
        </span>
      </div>
      <p class="muted small">Point at the drawing to read values; drag the ends of the scale to change the colours.</p>
    </div>
    <div class="scroll"><PlacesTable /></div>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: 166px minmax(0, 1fr); gap: 10px; min-height: 0; flex: 1; }
.scroll > p { margin: 4px 0 8px; }
.files { flex-wrap: wrap; gap: 0; }
progress { accent-color: var(--heat); height: 8px; width: 200px; }
</style>
