<script setup lang="ts">
import { computed } from 'vue'

import PadMenu from '../../pad/PadMenu.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { useCase } from '../../stores/case'
import { useLines, type Along } from '../../stores/lines'
import { readingOf } from '../../stores/wishes'

/** The lines of the case: which are plotted, new ones, and where each lies. */
const theCase = useCase()
const lines = useLines()
const chosen = computed(() => lines.lines.find((line) => line.name === lines.chosen) ?? null)
const parts = computed(() => (theCase.sketch?.parts ?? []).map((p) => p.name))
const boundaries = computed(() => (theCase.sketch?.boundaries ?? []).map((b) => b.name))
const KIND_WORDS: Record<Along['type'], string> = {
  straight: 'straight',
  arc: 'arc',
  surface: 'along',
  centre: 'middle of',
  stations: 'across',
}
const wordsOf = (along: Along) =>
  along.type === 'surface'
    ? `along ${along.boundaries.join('; ')}`
    : along.type === 'centre' || along.type === 'stations'
      ? `${KIND_WORDS[along.type]} ${along.part}${along.type === 'stations' ? ` × ${along.count}` : ''}`
      : KIND_WORDS[along.type]

const items = computed(() => [
  { title: 'On the drawing' },
  { title: 'a straight line', value: 'straight' },
  { title: 'an arc', value: 'arc' },
  { title: 'Along what there is' },
  ...(theCase.picked.length ? [{ title: `along ${theCase.picked.join('; ')}`, value: 'picked' }] : []),
  ...boundaries.value.slice(0, 60).map((name) => ({ title: `along ${name}`, value: `along ${name}` })),
  { title: 'In a part' },
  ...parts.value.slice(0, 30).flatMap((name) => [
    { title: `middle of ${name}`, value: `middle ${name}` },
    { title: `row of stations across ${name}`, value: `row ${name}` },
  ]),
])

function choose(value: string): void {
  const [word, ...rest] = value.split(' ')
  const name = rest.join(' ')
  if (value === 'straight' || value === 'arc') lines.tool = value
  else if (value === 'picked')
    lines.add({ type: 'surface', boundaries: [...theCase.picked], side: '' }, theCase.picked.join('; ').slice(0, 40))
  else if (word === 'along') lines.add({ type: 'surface', boundaries: [name], side: '' }, name.slice(0, 50))
  else if (word === 'middle') lines.add({ type: 'centre', part: name }, `middle of ${name}`.slice(0, 50))
  else lines.add({ type: 'stations', part: name, count: 5 }, `across ${name}`.slice(0, 50))
}

const FIELDS: Record<string, [string, string][]> = {
  straight: [
    ['x0', 'x from'],
    ['y0', 'y from'],
    ['x1', 'x to'],
    ['y1', 'y to'],
  ],
  arc: [
    ['x', 'x of its middle'],
    ['y', 'y of its middle'],
    ['radius', 'radius'],
    ['begin', 'from'],
    ['end', 'to'],
  ],
}

function set(field: string, value: unknown): void {
  const name = lines.chosen
  theCase.edit(`reading.lines.${name}.${field}`, (d) => {
    const line = readingOf(d).lines.find((one) => one.name === name)
    if (line) Object.assign(line.along, { [field]: value })
  })
}
const sides = computed(() => {
  const along = chosen.value?.along
  const named = along?.type === 'surface' ? along.boundaries[0]!.split(' | ') : []
  return named.length === 2 ? named : []
})
</script>

<template>
  <div class="lines">
    <div class="row">
      <PadMenu label="new line" data-test="new-line" :items="items" @choose="choose" />
      <span v-if="lines.tool === 'straight' || lines.tool === 'arc'" class="heat small" role="status"
        >drag on the drawing; Esc gives up</span
      >
    </div>
    <p v-if="!lines.lines.length" class="muted">
      No lines yet. A line gets a name, lies on the drawing, and every later run shows it.
    </p>
    <v-table v-else class="dense">
      <tbody>
        <tr v-for="line in lines.lines" :key="line.name" :data-line-row="line.name">
          <td class="tick">
            <v-checkbox v-model="lines.plotted" :value="line.name" :aria-label="`plot ${line.name}`" />
          </td>
          <td>
            <v-btn
              class="cell"
              variant="text"
              size="small"
              :aria-expanded="lines.chosen === line.name"
              @click="lines.chosen = lines.chosen === line.name ? '' : line.name"
              >{{ line.name }}</v-btn
            >
          </td>
          <td class="muted small what">{{ wordsOf(line.along) }}</td>
          <td>
            <v-btn variant="text" size="small" :aria-label="`take out ${line.name}`" @click="lines.remove(line.name)">×</v-btn>
          </td>
        </tr>
      </tbody>
    </v-table>
    <div v-if="chosen" class="form" data-test="line-form">
      <v-label id="line-name-label" for="line-name">Name</v-label>
      <v-text-field
        id="line-name"
        :model-value="chosen.name"
        @change="lines.rename(chosen.name, ($event.target as HTMLInputElement).value)"
      />
      <template v-for="[field, label] in FIELDS[chosen.along.type] ?? []" :key="field">
        <v-label :id="`line-${field}-label`" :for="`line-${field}`">{{ label }}</v-label>
        <QuantityField
          :id="`line-${field}`"
          :unit="['begin', 'end'].includes(field) ? 'deg' : 'mm'"
          :value="String((chosen.along as unknown as Record<string, unknown>)[field] ?? '')"
          @enter="set(field, $event)"
        />
      </template>
      <template v-if="chosen.along.type === 'stations'">
        <v-label id="line-count-label" for="line-count">How many</v-label>
        <v-select
          id="line-count"
          :model-value="chosen.along.count"
          :items="[2, 3, 5, 8, 10, 15, 20, 30, 60]"
          @update:model-value="set('count', $event)"
        />
      </template>
      <template v-if="sides.length">
        <v-label id="line-side-label" for="line-side">Side of</v-label>
        <v-select
          id="line-side"
          :model-value="chosen.along.type === 'surface' ? chosen.along.side : ''"
          :items="[{ value: '', title: 'what flows' }, ...sides.map((name) => ({ value: name, title: name }))]"
          @update:model-value="set('side', $event)"
        />
      </template>
      <p v-if="lines.problemOf(chosen)" class="fault hint" role="alert">{{ lines.problemOf(chosen) }}</p>
    </div>
  </div>
</template>

<style scoped>
.tick {
  width: 28px;
}
.what {
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.hint {
  grid-column: 1 / -1;
  margin: 0;
}
p {
  margin: 4px 0 8px;
}
</style>
