<script setup lang="ts">
import { computed } from 'vue'

import { useCase } from '../../stores/case'
import { useLines } from '../../stores/lines'
import { useLook } from '../../stores/look'
import { useReading } from '../../stores/reading'

/** How the flow is shown: arrows, streamlines and what they begin at, particles that move along them. */
const theCase = useCase()
const reading = useReading()
const lines = useLines()
const look = useLook()
const flows = computed(() => reading.fields.some((f) => f.name === 'velocity x'))
const starts = computed(() => [
  ...lines.lines.map((line) => line.name),
  ...(theCase.sketch?.boundaries ?? [])
    .filter((b) => ['inlet', 'outlet', 'opening', 'upstream', 'downstream'].includes(b.kind))
    .map((b) => b.name),
])

function choose(how: typeof look.streamStart): void {
  look.streamStart = how
  // One of both is easier to read.
  if (how !== 'none') reading.arrows = false
  if (how === 'line' && !starts.value.includes(look.seedLine)) look.seedLine = starts.value[0] ?? ''
  lines.tool = how === 'point' && !look.seedPoints.length ? 'seed' : ''
}
</script>

<template>
  <p v-if="!flows" class="muted">Nothing flows in this section.</p>
  <div v-else class="form">
    <v-label id="arrows-label" for="arrows">Velocity</v-label>
    <v-checkbox id="arrows" v-model="reading.arrows" label="arrows" />
    <template v-if="reading.arrows">
      <v-label id="arrow-density-label" for="arrow-density">Density</v-label>
      <v-slider id="arrow-density" v-model="look.arrows.density" min="0.4" max="2.5" step="0.1" aria-label="density of arrows" />
      <v-label id="arrow-length-label" for="arrow-length">Length</v-label>
      <v-slider id="arrow-length" v-model="look.arrows.length" min="0.4" max="3" step="0.1" aria-label="length of arrows" />
      <span></span>
      <span class="row checks">
        <v-checkbox v-model="look.arrows.even" label="one length" />
        <v-checkbox v-model="look.arrows.coloured" label="coloured by speed" />
      </span>
    </template>
    <v-label id="streams-label" for="streams">Streamlines</v-label>
    <v-select
      id="streams"
      :model-value="look.streamStart"
      data-test="streamlines"
      :items="[
        { value: 'none', title: 'none' },
        { value: 'even', title: 'evenly spaced' },
        { value: 'line', title: 'from a boundary or line' },
        { value: 'point', title: 'through places clicked' },
      ]"
      @update:model-value="choose($event)"
    />
    <template v-if="look.streamStart === 'even'">
      <v-label id="spacing-label" for="spacing">Distance</v-label>
      <v-slider id="spacing" v-model="look.spacing" min="0.01" max="0.12" step="0.005" aria-label="distance of streamlines" />
    </template>
    <template v-if="look.streamStart === 'line'">
      <v-label id="seed-label" for="seed">From</v-label>
      <v-select id="seed" v-model="look.seedLine" data-test="seed-line" :items="starts" />
      <v-label id="seed-count-label" v-tip="'with the same flow between each two'" for="seed-count">How many</v-label>
      <v-select
        id="seed-count"
        v-model="look.seedCount"
        :items="[5, 8, 12, 20, 30, 50].map((n) => ({ value: n, title: String(n) }))"
      />
    </template>
    <template v-if="look.streamStart === 'point'">
      <span class="label">Places</span>
      <span class="row checks">
        <v-btn
          size="small"
          :class="{ on: lines.tool === 'seed' }"
          data-test="click-seeds"
          @click="lines.tool = lines.tool === 'seed' ? '' : 'seed'"
          >{{ lines.tool === 'seed' ? 'click the drawing …' : 'click more' }}</v-btn
        >
        <v-btn v-if="look.seedPoints.length" variant="text" size="small" @click="look.seedPoints = []"
          >clear {{ look.seedPoints.length }}</v-btn
        >
      </span>
    </template>
    <template v-if="look.streamStart !== 'none'">
      <v-label id="stream-colour-label" for="stream-colour">Coloured by</v-label>
      <v-select
        id="stream-colour"
        v-model="look.streamField"
        :items="[{ value: '', title: 'nothing' }, ...reading.fields.map((f) => ({ value: f.name, title: f.name }))]"
      />
      <span></span>
      <v-checkbox v-model="look.particles" label="moving particles" data-test="particles" />
    </template>
    <p v-if="look.streamProblem" class="fault hint" role="alert">{{ look.streamProblem }}</p>
  </div>
</template>

<style scoped>
.checks {
  flex-wrap: wrap;
  gap: 0 8px;
}
.hint {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
