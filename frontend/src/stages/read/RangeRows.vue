<script setup lang="ts">
import { computed } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import { useUnits } from '../../quantity/units'
import { useLook } from '../../stores/look'
import { useReading } from '../../stores/reading'

/** The ends of the colours and what is of interest, by number: all of the form that follows while the range is dragged. */
const reading = useReading()
const look = useLook()
const units = useUnits()

const field = computed(() => reading.field)
const unit = computed(() => units.unitOf(field.value?.kind ?? 'number'))
const text = (value: number | null | undefined) =>
  field.value && value !== null && value !== undefined ? units.withUnit(value, field.value.kind, 5) : ''

/** A typed value in the unit that is read, or in one written behind it. */
function read(entered: string): number | null {
  const kind = units.kinds.get(field.value?.kind ?? '')
  const [, number, word] = /^\s*([-+]?[\d.]+(?:e[-+]?\d+)?)\s*(.*?)\s*$/i.exec(entered.replace('−', '-')) ?? []
  if (number === undefined || !Number.isFinite(Number(number)) || !kind) return null
  const known = word ? kind.units.find((u) => u.label === word || u.unit === word) : unit.value
  return known ? (Number(number) + known.offset) * known.factor : null
}

function setEnd(end: 0 | 1, entered: string): void {
  const value = read(entered)
  if (value === null) return
  const next: [number, number] = [...reading.range]
  next[end] = value
  if (next[0] < next[1]) reading.setRange(...next)
}

function setBand(end: 0 | 1, entered: string): void {
  const value = read(entered)
  if (value === null) {
    if (!entered.trim()) look.band = null
    return
  }
  const now: [number, number] = look.band ? [...look.band] : [...reading.range]
  now[end] = value
  look.band = now[0] <= now[1] ? now : [now[1], now[0]]
}
</script>

<template>
  <template v-if="look.diverging">
    <v-label id="middle-label" for="middle">About</v-label>
    <QuantityField
      id="middle"
      :value="text(look.middle ?? (reading.range[0] + reading.range[1]) / 2)"
      @enter="look.middle = read($event)"
    />
  </template>
  <v-label id="low-label" for="low">Range</v-label>
  <span class="row pair">
    <QuantityField
      id="low"
      data-test="range-low"
      :value="text(reading.range[0])"
      aria-label="lower end of the colours"
      @enter="setEnd(0, $event)"
    />
    <QuantityField
      data-test="range-high"
      :value="text(reading.range[1])"
      aria-label="upper end of the colours"
      @enter="setEnd(1, $event)"
    />
  </span>
  <span></span>
  <span class="row buttons">
    <v-btn
      v-tip="'the values that are in view now'"
      variant="text"
      size="small"
      data-test="range-visible"
      @click="reading.visibleRange()"
      >what is in view</v-btn
    >
    <v-btn variant="text" size="small" @click="reading.wholeRange()">whole</v-btn>
    <v-checkbox
      v-model="reading.locked"
      v-tip="'the same colours for views, instants and later runs of this case too'"
      label="keep"
      data-test="range-lock"
    />
  </span>
  <v-label id="band-label" v-tip="'all else is grey: where is it above 60 °C?'" for="band">Of interest</v-label>
  <span class="row pair">
    <QuantityField
      id="band"
      data-test="band-low"
      :value="text(look.band?.[0])"
      placeholder="from"
      aria-label="from"
      @enter="setBand(0, $event)"
    />
    <QuantityField
      data-test="band-high"
      :value="text(look.band?.[1])"
      placeholder="to"
      aria-label="to"
      @enter="setBand(1, $event)"
    />
  </span>
  <template v-if="look.band">
    <span></span>
    <span class="row buttons">
      <b v-if="look.bandShare !== null" data-test="band-share">{{ (100 * look.bandShare).toPrecision(3) }} % of the area</b>
      <v-btn variant="text" size="small" @click="look.band = null">all</v-btn>
    </span>
  </template>
</template>

<style scoped>
.pair {
  gap: 8px;
}
.pair > * {
  flex: 1;
}
.buttons {
  flex-wrap: wrap;
  gap: 0 8px;
}
</style>
