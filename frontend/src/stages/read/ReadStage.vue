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
    <p>The case has changed since it was solved: <b>{{ theCase.staleBecause.join(', ') }}</b>. The fields belong to the case as it was, so they are not laid into this drawing.</p>
    <p v-if="theCase.busy" role="status"><progress :value="Number(theCase.run?.progress.fraction ?? 0)" max="1"></progress> {{ theCase.run?.progress.stage }}</p>
    <button v-else class="pad-button main" :disabled="theCase.problems.length > 0" @click="theCase.start('solve')">Solve again</button>
  </div>
  <div v-else-if="readable" class="columns">
    <div class="scroll">
      <div class="form">
        <label for="field">Field</label>
        <select id="field" v-model="reading.fieldName" class="pad-select" data-test="field">
          <option v-for="f in reading.fields" :key="f.name" :value="f.name">{{ f.name }}</option>
        </select>
        <label for="arrows">Velocity</label>
        <label class="row"><input id="arrows" v-model="reading.arrows" type="checkbox" /> arrows</label>
        <template v-if="reading.goesOn">
          <label for="repeats" title="modules drawn behind each other">Repeat</label>
          <select id="repeats" v-model.number="reading.repeats" class="pad-select" data-test="repeats">
            <option v-for="n in [1, 2, 3, 4, 6]" :key="n" :value="n">{{ n === 1 ? 'one module' : `${n} modules` }}</option>
          </select>
        </template>
        <template v-if="reading.planes.length">
          <label>Mirror</label>
          <span class="row mirrors">
            <label v-for="(plane, i) in reading.planes" :key="i" class="row"><input v-model="reading.mirrors" type="checkbox" :value="i" :data-test="`mirror-${i}`" /> at {{ plane.axis }} {{ units.withUnit(plane.at, 'length', 3) }}</label>
          </span>
        </template>
        <template v-if="reading.field">
          <label>Range</label><span>{{ units.format(reading.field.low, reading.field.kind, 4) }} to {{ units.withUnit(reading.field.high, reading.field.kind, 4) }}</span>
        </template>
        <label>Files</label>
        <span class="row files">
          <a class="pad-button quiet small" :href="`/api/runs/${readable.id}/fields.vtu?frame=${reading.frameNumber}`" title="VTU, of what is shown">fields</a>
          <a v-if="reading.frames.length > 1" class="pad-button quiet small" :href="`/api/runs/${readable.id}/history.csv`" title="CSV, watched quantities over time">history</a>
          <template v-if="readable.ledger.length">
            <a class="pad-button quiet small" :href="`/api/runs/${readable.id}/ledger.csv`" title="CSV, all quantities">table</a>
            <a class="pad-button quiet small" :href="`/api/runs/${readable.id}/ledger.json`" title="JSON">ledger</a>
          </template>
          <a class="pad-button quiet small" :href="`/api/runs/${readable.id}/case.json`" title="JSON">case</a>
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
.files, .mirrors { flex-wrap: wrap; gap: 0; }
progress { accent-color: var(--heat); height: 8px; width: 200px; }
</style>
