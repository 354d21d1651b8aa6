<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

import { useUnits } from '../quantity/units'
import { useReading } from '../stores/reading'

/** The frames of a run in time: which frame is shown, one after the other, and when it is. */
const PAUSE = 120
const reading = useReading()
const units = useUnits()
const playing = ref(false)
const next = useTimeoutFn(() => void advance(), PAUSE, { immediate: false })

const last = computed(() => reading.frames.length - 1)
const at = computed(() => reading.frames.findIndex((f) => f.number === reading.frameNumber))
const time = computed(() => reading.frames[at.value]?.time ?? 0)

function go(index: number): void {
  const frame = reading.frames[Math.min(Math.max(index, 0), last.value)]
  if (frame) void reading.showFrame(frame.number)
}

async function advance(): Promise<void> {
  if (!playing.value) return
  const frame = reading.frames[at.value >= last.value ? 0 : at.value + 1]
  if (frame) await reading.showFrame(frame.number).catch(() => (playing.value = false))
  next.start()
}

function toggle(): void {
  playing.value = !playing.value
  next.stop()
  if (playing.value) void advance()
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
    <v-slider
      min="0"
      :max="last"
      step="1"
      :model-value="at"
      aria-label="frame"
      data-test="frame"
      @update:model-value="go($event)"
    />
    <output class="when">{{ units.withUnit(time, 'time', 4) }}</output>
    <span class="muted small">{{ at + 1 }} of {{ last + 1 }}</span>
    <v-checkbox v-model="reading.allFrames" v-tip="'colours span all frames, or each frame by itself'" label="one scale" />
  </div>
</template>

<style scoped>
.frames {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 0 8px;
}
.frames .v-slider {
  flex: 1;
  min-width: 60px;
}
.when {
  font-variant-numeric: tabular-nums;
  min-width: 76px;
  text-align: right;
}
</style>
