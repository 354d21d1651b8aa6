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
/** What lies in the drawing; the stale case has its own words above. */
const readable = computed(() => theCase.readable)
const stale = computed(() => theCase.staleBecause.length > 0)
</script>

<template>
  <h2>Read</h2>
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
  <div v-else-if="readable" class="columns">
    <div class="scroll">
      <div class="form">
        <v-label id="field-label" for="field">Field</v-label>
        <v-select
          id="field"
          v-model="reading.fieldName"
          data-test="field"
          :items="reading.fields.map((f) => ({ value: f.name, title: f.name }))"
        />
        <v-label id="arrows-label" for="arrows">Velocity</v-label>
        <v-checkbox id="arrows" v-model="reading.arrows" label="arrows" />
        <template v-if="reading.goesOn">
          <v-label id="repeats-label" v-tip="'modules drawn behind each other'" for="repeats">Repeat</v-label>
          <v-select
            id="repeats"
            v-model="reading.repeats"
            data-test="repeats"
            :items="[1, 2, 3, 4, 6].map((n) => ({ value: n, title: n === 1 ? 'one module' : `${n} modules` }))"
          />
        </template>
        <template v-if="reading.planes.length">
          <span class="label">Mirror</span>
          <span class="row mirrors">
            <v-checkbox
              v-for="(plane, i) in reading.planes"
              :key="i"
              v-model="reading.mirrors"
              :value="i"
              :data-test="`mirror-${i}`"
              :label="`at ${plane.axis} ${units.withUnit(plane.at, 'length', 3)}`"
            />
          </span>
        </template>
        <template v-if="reading.field">
          <span class="label">Range</span
          ><span
            >{{ units.format(reading.field.low, reading.field.kind, 4) }} to
            {{ units.withUnit(reading.field.high, reading.field.kind, 4) }}</span
          >
        </template>
        <span class="label">Files</span>
        <span class="row files">
          <v-btn
            v-tip="'VTU, of what is shown'"
            variant="text"
            size="small"
            :href="`/api/runs/${readable.id}/fields.vtu?frame=${reading.frameNumber}`"
            >fields</v-btn
          >
          <v-btn
            v-if="reading.frames.length > 1"
            v-tip="'CSV, watched quantities over time'"
            variant="text"
            size="small"
            :href="`/api/runs/${readable.id}/history.csv`"
            >history</v-btn
          >
          <template v-if="readable.ledger.length">
            <v-btn v-tip="'CSV, all quantities'" variant="text" size="small" :href="`/api/runs/${readable.id}/ledger.csv`"
              >table</v-btn
            >
            <v-btn v-tip="'JSON'" variant="text" size="small" :href="`/api/runs/${readable.id}/ledger.json`">ledger</v-btn>
          </template>
          <v-btn v-tip="'JSON'" variant="text" size="small" :href="`/api/runs/${readable.id}/case.json`">case</v-btn>
        </span>
      </div>
      <p class="muted small">Point at the drawing to read values; drag the ends of the scale to change the colours.</p>
    </div>
    <div class="scroll"><PlacesTable /></div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 166px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
  flex: 1;
}
.scroll > p {
  margin: 4px 0 8px;
}
.files,
.mirrors {
  flex-wrap: wrap;
  gap: 0;
}
</style>
