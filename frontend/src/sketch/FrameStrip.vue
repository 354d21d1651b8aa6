<script setup lang="ts">
import { useStorage, useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import QuantityField from '../quantity/QuantityField.vue'
import { useUnits } from '../quantity/units'
import { useReading } from '../stores/reading'

/** The frames of a run in time: which frame is shown, one after the other at a pace, and when it is. */
const PACES = [5, 10, 15, 25]
const reading = useReading()
const units = useUnits()
const playing = ref(false)
/** Frames a second. */
const pace = useStorage('wattikos.frames.pace', 10)
let begun = 0
const next = useTimeoutFn(
  () => void advance(),
  () => Math.max(0, 1000 / pace.value - (performance.now() - begun)),
  {
    immediate: false,
  },
)

const last = computed(() => reading.frames.length - 1)
const at = computed(() => reading.frames.findIndex((f) => f.number === reading.frameNumber))
const time = computed(() => reading.frames[at.value]?.time ?? 0)

function go(index: number): void {
  const frame = reading.frames[Math.min(Math.max(index, 0), last.value)]
  if (frame) void reading.showFrame(frame.number)
}

async function advance(): Promise<void> {
  if (!playing.value) return
  begun = performance.now()
  const frame = reading.frames[at.value >= last.value ? 0 : at.value + 1]
  if (frame) await reading.showFrame(frame.number).catch(() => (playing.value = false))
  next.start()
}

function toggle(): void {
  playing.value = !playing.value
  next.stop()
  if (playing.value) void advance()
}

function step(by: number): void {
  playing.value = false
  go(at.value + by)
}

/** To the frame nearest to a time that was typed. */
function jump(text: string): void {
  const [, number, word] = /^\s*([\d.]+(?:e[-+]?\d+)?)\s*(.*?)\s*$/i.exec(text) ?? []
  const known = word ? units.kinds.get('time')?.units.find((u) => u.label === word || u.unit === word) : units.unitOf('time')
  if (number === undefined || !known) return
  const wanted = Number(number) * known.factor
  const distances = reading.frames.map((f) => Math.abs((f.time ?? 0) - wanted))
  playing.value = false
  go(distances.indexOf(Math.min(...distances)))
}

watch(
  () => reading.runId,
  () => (playing.value = false),
)
</script>

<template>
  <div v-if="reading.frames.length > 1" class="frames" data-test="frames">
    <v-btn variant="text" :aria-label="playing ? 'pause' : 'play the frames'" data-test="play" @click="toggle">{{
      playing ? '❚❚' : '▶'
    }}</v-btn>
    <v-btn variant="text" aria-label="one frame back" :disabled="at <= 0" @click="step(-1)">‹</v-btn>
    <v-btn variant="text" aria-label="one frame on" data-test="step-on" :disabled="at >= last" @click="step(1)">›</v-btn>
    <v-slider
      min="0"
      :max="last"
      step="1"
      :model-value="at"
      aria-label="frame"
      data-test="frame"
      @update:model-value="go($event)"
    />
    <QuantityField
      v-tip="'type a time to go to the frame nearest to it'"
      class="when number"
      :value="units.withUnit(time, 'time', 4)"
      aria-label="time"
      data-test="when"
      @enter="jump"
    />
    <span class="muted small">{{ at + 1 }} of {{ last + 1 }}</span>
    <v-select v-model="pace" class="pace" aria-label="frames a second" :items="PACES.map((n) => ({ value: n, title: `${n}/s` }))" />
    <v-checkbox v-model="reading.allFrames" v-tip="'colours span all frames, or each frame by itself'" label="one scale" />
  </div>
</template>

<style scoped>
.frames {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 0 8px;
}
.frames > * {
  flex: none;
}
.frames .v-slider {
  flex: 1;
  min-width: 60px;
}
.when {
  width: 92px;
}
.pace {
  width: 68px;
}
</style>
