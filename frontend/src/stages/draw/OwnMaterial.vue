<script setup lang="ts">
import { computed } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import TextField from '../../quantity/TextField.vue'
import { useUnits } from '../../quantity/units'
import { useNotices } from '../../pad/notices'
import { useCase } from '../../stores/case'

/** A material of the case's own: a catalogue material with some properties replaced. */
const props = defineProps<{ name: string }>()
const theCase = useCase()
const units = useUnits()
const notices = useNotices()
const material = computed(() => theCase.document?.materials[props.name] as unknown as Record<string, string> | undefined)
const base = computed(() => units.catalogue?.materials.find((m) => m.key === material.value?.base))
const fluid = computed(() => base.value !== undefined && base.value.state !== 'solid')
const melts = computed(() => base.value?.state === 'melting')
const FIELDS: [field: string, label: string, kind: string, unit: string, fluid?: boolean][] = [
  ['conductivity', 'conductivity', 'conductivity', 'W/m/K'],
  ['conductivity_y', 'the same along y', 'conductivity', 'W/m/K', false],
  ['density', 'density', 'density', 'kg/m^3'],
  ['specific_heat', 'specific heat', 'specific_heat', 'J/kg/K'],
  ['viscosity', 'viscosity', 'viscosity', 'mPa*s', true],
  ['pressure', 'at pressure', 'pressure', 'bar', true],
  ['expansion', 'expansion', 'expansion', '1/K', true],
]
const MELTING: typeof FIELDS = [
  ['melts_from', 'melts from', 'temperature', '°C'],
  ['melts_to', 'to', 'temperature', '°C'],
  ['latent_heat', 'latent heat', 'specific_energy', 'kJ/kg'],
]
/** What melts has two specific heats, those of the catalogue. */
const fields = computed(() =>
  melts.value
    ? [...FIELDS.filter((f) => f[4] !== false && f[0] !== 'pressure'), ...MELTING]
    : FIELDS.filter((f) => f[4] === undefined || f[4] === fluid.value),
)

function rename(text: string): void {
  const now = text.trim()
  const before = props.name
  if (!now || now === before || theCase.document?.materials[now]) return
  theCase.edit('materials.rename', (d) => {
    d.materials = Object.fromEntries(Object.entries(d.materials).map(([key, m]) => [key === before ? now : key, m]))
    for (const part of d.section.parts) if (part.material === before) part.material = now
    for (const contact of d.contacts) if (contact.material === before) contact.material = now
    for (const c of d.conditions) if (c.type === 'wall' && c.coating_material === before) c.coating_material = now
  })
}

async function remove(): Promise<void> {
  const name = props.name
  const also = await theCase.reach('remove_material', name)
  notices.say([`${name} is taken out`, ...also].join('; '), theCase.undo)
}
</script>

<template>
  <div v-if="material" class="own" role="group" :aria-label="`the material ${name}`">
    <p class="muted small">
      own material, as {{ base?.label }} where nothing is entered
      <v-btn variant="text" size="small" data-test="remove-material" @click="remove">take out</v-btn>
    </p>
    <div class="pairs">
      <v-label id="own-name-label" for="own-name">called</v-label>
      <QuantityField id="own-name" :value="name" @enter="rename" />
      <v-label id="own-base-label" for="own-base">like</v-label>
      <v-select
        id="own-base"
        :model-value="material.base"
        :items="(units.catalogue?.materials ?? []).map((m) => ({ value: m.key, title: m.label }))"
        @update:model-value="theCase.setText(`materials.${name}.base`, $event)"
      />
      <template v-for="[field, label, kind, unit] in fields" :key="field">
        <span class="label">{{ label }}</span>
        <TextField
          :path="`materials.${name}.${field}`"
          :value="material[field]"
          :aria-label="`${label} of ${name}`"
          :kind="kind"
          :unit="unit"
          placeholder="catalogue"
        />
      </template>
    </div>
  </div>
</template>

<style scoped>
.own {
  border: 1px solid var(--hair);
  margin: 6px 0 0;
  padding: 0 8px 4px;
}
.own p {
  margin: 0;
}
.pairs {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr) max-content minmax(0, 1fr);
  gap: 2px 7px;
  align-items: center;
}
.pairs label,
.pairs .label {
  color: var(--muted);
}
.pairs .pad-select {
  width: 100%;
  padding: 0 2px;
}
</style>
