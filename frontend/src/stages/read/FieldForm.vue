<script setup lang="ts">
import { computed } from 'vue'

import { MAPS } from '../../design/colourMaps'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useLook } from '../../stores/look'
import { useReading } from '../../stores/reading'
import { useWalls, WALL_FIELDS } from '../../stores/walls'
import RangeRows from './RangeRows.vue'
import ViewsRow from './ViewsRow.vue'

/** Which field lies in the drawing, and how: shaded, in bands or as lines, over which range, and what of it is of interest. */
const theCase = useCase()
const reading = useReading()
const walls = useWalls()
const look = useLook()
const units = useUnits()

// Lists that stay the same ones: a list made anew with the form has every one of its entries drawn anew.
const MAP_WORDS: Record<string, string> = { heather: 'heather, about a value' }
const named = (name: string) => ({ value: name, title: name })
const fields = computed(() => reading.fields.map((field) => named(field.name)))
const LOOKS = [
  { value: 'smooth', title: 'smooth shading' },
  { value: 'bands', title: 'bands' },
  { value: 'lines', title: 'labelled lines' },
]
const COUNTS = [5, 8, 10, 15, 20, 30].map((count) => ({ value: count, title: String(count) }))
const PLACES = [
  { value: 'all', title: 'everywhere' },
  { value: 'solids', title: 'in solids only' },
  { value: 'fluids', title: 'in fluids only' },
]
const ON_WALLS = [{ value: '', title: 'nothing' }, ...WALL_FIELDS.map(named)]
const COLOURS = [{ value: '', title: 'of the field' }, ...MAPS.map((name) => ({ value: name, title: MAP_WORDS[name] ?? name }))]
const REPEATS = [1, 2, 3, 4, 6].map((count) => ({ value: count, title: count === 1 ? 'one module' : `${count} modules` }))
</script>

<template>
  <div class="form">
    <ViewsRow />
    <v-label id="field-label" for="field">Field</v-label>
    <v-select id="field" v-model="reading.fieldName" data-test="field" :items="fields" />
    <v-label id="look-label" for="look">Shown as</v-label>
    <span class="row pair">
      <v-select id="look" v-model="look.look" data-test="look" :items="LOOKS" />
      <v-select
        v-if="look.look !== 'smooth'"
        v-model="look.levels"
        class="few"
        aria-label="number of bands or lines, about"
        :items="COUNTS"
      />
    </span>
    <v-label id="shown-label" for="shown">Where</v-label>
    <v-select id="shown" v-model="look.shown" data-test="shown-parts" :items="PLACES" />
    <v-label id="walls-label" v-tip="'drawn on the walls: the further off a wall, the more of it there is'" for="walls"
      >On the walls</v-label
    >
    <v-select id="walls" v-model="walls.field" data-test="on-walls" :items="ON_WALLS" />
    <template v-if="walls.problem">
      <span></span>
      <span class="small muted" role="status">{{ walls.problem }}</span>
    </template>
    <v-label id="map-label" for="map">Colours</v-label>
    <v-select id="map" v-model="look.chosenMap" data-test="map" :items="COLOURS" />
    <RangeRows />
    <template v-if="reading.goesOn">
      <v-label id="repeats-label" v-tip="'modules drawn behind each other'" for="repeats">Repeat</v-label>
      <v-select id="repeats" v-model="reading.repeats" data-test="repeats" :items="REPEATS" />
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
.mirrors {
  flex-wrap: wrap;
  gap: 0 8px;
}
</style>
