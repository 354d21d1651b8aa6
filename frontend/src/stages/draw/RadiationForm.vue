<script setup lang="ts">
import { computed } from 'vue'

import PadMenu from '../../pad/PadMenu.vue'
import TextField from '../../quantity/TextField.vue'
import { useCase } from '../../stores/case'

/** Radiation between the surfaces around a gas: one emissivity for all of them, and rows for those that have their own. */
const props = defineProps<{ index: number }>()
const theCase = useCase()
const part = computed(() => theCase.document?.section.parts[props.index])
const at = computed(() => `section.parts[${props.index}].radiation`)
const surfaces = computed(() => part.value?.radiation?.surfaces ?? [])

/** Surfaces of the gas by the names in the document: walls and interfaces, copies of a repeated part as one. */
const known = computed(() => {
  const origin = new Map((theCase.sketch?.parts ?? []).map((p) => [p.name, p.origin]))
  const own = part.value?.name
  const found = (theCase.sketch?.boundaries ?? []).map((boundary) => {
    if (boundary.interface)
      return boundary.name
        .split(' | ')
        .map((name) => origin.get(name) ?? name)
        .join(' | ')
    const [name, ...side] = boundary.name.split(', ')
    return [origin.get(name!) ?? name, ...side].join(', ')
  })
  return [...new Set(found)].filter((name) =>
    name.includes(' | ') ? own && name.split(' | ').includes(own) : name.split(', ')[0] === own,
  )
})
const free = computed(() => known.value.filter((name) => !surfaces.value.some((row) => same(row.surface, name))))

function same(one: string, other: string): boolean {
  return one === other || one.split(' | ').reverse().join(' | ') === other
}

function add(surface: string): void {
  theCase.edit(`${at.value}.surfaces.add`, (d) => {
    const radiation = d.section.parts[props.index]!.radiation
    if (radiation) radiation.surfaces = [...(radiation.surfaces ?? []), { surface, emissivity: '0.1', absorbed: '' }]
  })
}

function remove(row: number): void {
  theCase.edit(`${at.value}.surfaces.remove`, (d) => d.section.parts[props.index]!.radiation?.surfaces?.splice(row, 1))
}
</script>

<template>
  <div v-if="part?.radiation" class="radiation" data-test="radiation-form">
    <span v-tip="'of all surfaces around it that have no row of their own'" class="label">emissivity</span>
    <TextField
      :path="`${at}.emissivity`"
      :value="part.radiation.emissivity"
      aria-label="emissivity of its surfaces"
      kind="ratio"
      unit=""
    />
    <span />
    <span />
    <template v-if="surfaces.length">
      <span class="label head">surface</span>
      <span class="label head">emissivity</span>
      <span v-tip="'flux that shines on it from elsewhere and is absorbed, such as that of the sun'" class="label head"
        >absorbs</span
      >
      <span />
    </template>
    <template v-for="(row, k) in surfaces" :key="row.surface">
      <span class="name" :title="row.surface">{{ row.surface }}</span>
      <TextField
        :path="`${at}.surfaces[${k}].emissivity`"
        :value="row.emissivity"
        :aria-label="`emissivity of ${row.surface}`"
        kind="ratio"
        unit=""
        placeholder="as above"
      />
      <TextField
        :path="`${at}.surfaces[${k}].absorbed`"
        :value="row.absorbed"
        :aria-label="`flux that ${row.surface} absorbs`"
        kind="heat_flux"
        unit="W/m^2"
        placeholder="none"
      />
      <v-btn class="out" variant="text" size="small" :aria-label="`take ${row.surface} out`" @click="remove(k)">×</v-btn>
    </template>
    <PadMenu
      v-if="free.length"
      class="add"
      label="a surface of its own…"
      data-test="new-radiating-surface"
      :items="free.map((name) => ({ value: name, title: name }))"
      @choose="add"
    />
  </div>
</template>

<style scoped>
.radiation {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 76px 76px 24px;
  gap: 2px 7px;
  align-items: center;
  margin-top: 6px;
  padding-top: 6px;
  border-top: 1px solid var(--hair);
}
.label {
  color: var(--muted);
  font-size: var(--size-small);
}
.name {
  overflow-wrap: anywhere;
  line-height: 1.2;
}
.out {
  min-width: 0;
  padding: 0 4px;
}
.add {
  grid-column: 1 / -1;
  justify-self: start;
}
</style>
