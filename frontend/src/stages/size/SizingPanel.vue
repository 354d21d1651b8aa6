<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'

import { useSizing, type Show } from '../../stores/sizing'
import SizingAnswer from './SizingAnswer.vue'

/** A sizing in the place of the drawing: its answer, what was tried, where it can be met, what it costs, what scatter does to it. */
const SizingTrials = defineAsyncComponent(() => import('./SizingTrials.vue'))
const SizingMap = defineAsyncComponent(() => import('./SizingMap.vue'))
const SizingFront = defineAsyncComponent(() => import('./SizingFront.vue'))
const SizingScatter = defineAsyncComponent(() => import('./SizingScatter.vue'))
const sizing = useSizing()

const SHOWS: Record<Show, string> = {
  answer: 'answer',
  trials: 'trials',
  map: 'where it can be met',
  front: 'two aims',
  scatter: 'tolerances',
}
const shows = computed(() => (Object.keys(SHOWS) as Show[]).filter((one) => one !== 'map' || sizing.numbers.length > 1))
const show = computed(() => (shows.value.includes(sizing.show) ? sizing.show : 'answer'))
</script>

<template>
  <section class="panel" aria-label="sizing" data-test="sizing-panel">
    <div class="row bar">
      <v-tabs v-model="sizing.show" density="compact" height="24" hide-slider aria-label="what of the sizing is shown">
        <v-tab v-for="one in shows" :key="one" :value="one" :class="{ on: show === one }" :data-show="one">{{ SHOWS[one] }}</v-tab>
      </v-tabs>
      <span class="grow"></span>
      <span v-if="sizing.pending" class="muted small" role="status">reckoning…</span>
    </div>
    <SizingTrials v-if="show === 'trials'" />
    <SizingMap v-else-if="show === 'map'" />
    <SizingFront v-else-if="show === 'front'" />
    <SizingScatter v-else-if="show === 'scatter'" />
    <SizingAnswer v-else />
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
.bar {
  flex: none;
}
.bar .v-tabs {
  flex: none;
}
</style>
