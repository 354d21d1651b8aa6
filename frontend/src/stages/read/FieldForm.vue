<script setup lang="ts">
import { computed } from 'vue'

import { MAPS } from '../../design/colourMaps'
import QuantityField from '../../quantity/QuantityField.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useLook } from '../../stores/look'
import { useReading } from '../../stores/reading'
import { useWalls, WALL_FIELDS } from '../../stores/walls'
import ViewsRow from './ViewsRow.vue'

/** Which field lies in the drawing, and how: shaded, in bands or as lines, over which range, and what of it is of interest. */
const theCase = useCase()
const reading = useReading()
const walls = useWalls()
const look = useLook()
const units = useUnits()

const field = computed(() => reading.field)
const unit = computed(() => units.unitOf(field.value?.kind ?? 'number'))
const text = (value: number | null | undefined) =>
  field.value && value !== null && value !== undefined ? units.withUnit(value, field.value.kind, 5) : ''
const MAP_WORDS: Record<string, string> = { heather: 'heather, about a value' }

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
  <div class="form">
    <ViewsRow />
    <v-label id="field-label" for="field">Field</v-label>
    <v-select
      id="field"
      v-model="reading.fieldName"
      data-test="field"
      :items="reading.fields.map((f) => ({ value: f.name, title: f.name }))"
    />
    <v-label id="look-label" for="look">Shown as</v-label>
    <span class="row pair">
      <v-select
        id="look"
        v-model="look.look"
        data-test="look"
        :items="[
          { value: 'smooth', title: 'smooth shading' },
          { value: 'bands', title: 'bands' },
          { value: 'lines', title: 'labelled lines' },
        ]"
      />
      <v-select
        v-if="look.look !== 'smooth'"
        v-model="look.levels"
        class="few"
        aria-label="number of bands or lines, about"
        :items="[5, 8, 10, 15, 20, 30].map((n) => ({ value: n, title: String(n) }))"
      />
    </span>
    <v-label id="shown-label" for="shown">Where</v-label>
    <v-select
      id="shown"
      v-model="look.shown"
      data-test="shown-parts"
      :items="[
        { value: 'all', title: 'everywhere' },
        { value: 'solids', title: 'in solids only' },
        { value: 'fluids', title: 'in fluids only' },
      ]"
    />
    <v-label id="walls-label" v-tip="'drawn on the walls: the further off a wall, the more of it there is'" for="walls"
      >On the walls</v-label
    >
    <v-select
      id="walls"
      v-model="walls.field"
      data-test="on-walls"
      :items="[{ value: '', title: 'nothing' }, ...WALL_FIELDS.map((name) => ({ value: name, title: name }))]"
    />
    <template v-if="walls.problem">
      <span></span>
      <span class="small muted" role="status">{{ walls.problem }}</span>
    </template>
    <v-label id="map-label" for="map">Colours</v-label>
    <v-select
      id="map"
      v-model="look.chosenMap"
      data-test="map"
      :items="[{ value: '', title: 'of the field' }, ...MAPS.map((name) => ({ value: name, title: MAP_WORDS[name] ?? name }))]"
    />
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
          :label="
            theCase.sketch?.axisymmetric && plane.axis === 'y' && plane.at === 0
              ? 'at the axis'
              : `at ${plane.axis} ${units.withUnit(plane.at, 'length', 3)}`
          "
        />
      </span>
    </template>
  </div>
</template>

<style scoped>
.pair {
  gap: 8px;
}
.pair > * {
  flex: 1;
}
.pair .few {
  flex: 0 0 64px;
}
.buttons,
.mirrors {
  flex-wrap: wrap;
  gap: 0 8px;
}
</style>
