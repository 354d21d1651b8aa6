<script setup lang="ts">
import { computed } from 'vue'

import type { Condition, Schemas } from '../../api/client'
import { useCase } from '../../stores/case'
import ContactsForm from './ContactsForm.vue'
import { giveCondition } from './give'

/** The conditions: pick one or many boundaries, give the condition once. */
const theCase = useCase()
const boundaries = computed(() => (theCase.sketch?.boundaries ?? []).filter((b) => !b.interface))
const interfaces = computed(() => (theCase.sketch?.boundaries ?? []).filter((b) => b.interface))
const chosen = computed(() => theCase.picked.filter((name) => boundaries.value.some((b) => b.name === name)))
const index = computed(() => {
  const found = new Set(chosen.value.map((name) => theCase.sketch?.boundaries.find((b) => b.name === name)?.condition ?? null))
  return found.size === 1 ? [...found][0]! : null
})
const mixed = computed(() => new Set(chosen.value.map((name) => boundaries.value.find((b) => b.name === name)?.condition)).size > 1)
const condition = computed<Condition | null>(() => (index.value === null ? null : (theCase.document?.conditions[index.value] ?? null)))
const fluid = computed(() => chosen.value.every((name) => boundaries.value.find((b) => b.name === name)?.fluid))
const problems = computed(() => theCase.problems.filter((p) => p.field.startsWith('conditions')))
const problemAt = (field: string) => (index.value === null ? undefined : theCase.problemOf(`conditions[${index.value}].${field}`))

function wall(given: Partial<Schemas['Wall']>): Condition {
  return { type: 'wall', boundaries: ['x'], thermal: 'adiabatic', value: '', ambient: '', emissivity: '', surroundings: '', ...given }
}

/** The values a kind of wall asks for, in order. */
const wallFields: Record<string, [field: string, label: string][]> = {
  temperature: [['value', 'Temperature']],
  heat_flux: [['value', 'Heat flux, inward']],
  heat_rate: [['value', 'Heat rate, inward']],
  convection: [['value', 'Coefficient h'], ['ambient', 'Ambient']],
  radiation: [['emissivity', 'Emissivity'], ['surroundings', 'Surroundings']],
  convection_radiation: [['value', 'Coefficient h'], ['ambient', 'Ambient'], ['emissivity', 'Emissivity'], ['surroundings', 'Surroundings']],
}

const fresh: Record<string, () => Condition> = {
  inlet: () => ({ type: 'inlet', boundaries: ['x'], mass_flow: '1 g/s', velocity: '', temperature: '20 degC', profile: 'uniform' }),
  outlet: () => ({ type: 'outlet', boundaries: ['x'], pressure: '0 Pa' }),
  symmetry: () => ({ type: 'symmetry', boundaries: ['x'] }),
  adiabatic: () => wall({}),
  temperature: () => wall({ thermal: 'temperature', value: '20 °C' }),
  heat_flux: () => wall({ thermal: 'heat_flux', value: '1 kW/m^2' }),
  heat_rate: () => wall({ thermal: 'heat_rate', value: '100 W' }),
  convection: () => wall({ thermal: 'convection', value: '10 W/m^2/K', ambient: '20 °C' }),
  radiation: () => wall({ thermal: 'radiation', emissivity: '0.9', surroundings: '20 °C' }),
  convection_radiation: () => wall({ thermal: 'convection_radiation', value: '10 W/m^2/K', ambient: '20 °C', emissivity: '0.9', surroundings: '20 °C' }),
}
const kindOf = (c: Condition | null) => (c === null ? '' : c.type === 'wall' ? c.thermal : c.type)

function give(kind: string): void {
  const make = fresh[kind]
  if (make) theCase.edit('conditions', (d) => giveCondition(d, chosen.value, make()))
}

/** Change a value for the chosen boundaries only: others that share the condition keep theirs. */
function change(what: string, apply: (c: Record<string, unknown>) => void): void {
  const now = condition.value
  if (!now) return
  theCase.edit(`conditions.${what}`, (d) => {
    const copy = JSON.parse(JSON.stringify(now)) as Condition
    apply(copy as unknown as Record<string, unknown>)
    giveCondition(d, chosen.value, copy)
  })
}

function toggle(name: string, event: MouseEvent): void {
  if (event.shiftKey || event.ctrlKey) theCase.picked = theCase.picked.includes(name) ? theCase.picked.filter((n) => n !== name) : [...theCase.picked, name]
  else theCase.picked = [name]
}
const value = (event: Event) => (event.target as HTMLInputElement).value
const text = (what: string) => String((condition.value as unknown as Record<string, unknown> | null)?.[what] ?? '')
</script>

<template>
  <h2>Conditions <span class="muted small">click, shift-click or shift-drag on the drawing, or choose here</span></h2>
  <div class="columns">
    <div class="scroll list" role="listbox" aria-label="boundaries" aria-multiselectable="true">
      <button v-for="b in boundaries" :key="b.name" role="option" :aria-selected="chosen.includes(b.name)" :class="{ on: chosen.includes(b.name), doubt: b.kind === 'open' }" :data-boundary="b.name" @click="toggle(b.name, $event)">
        <span>{{ b.name }}</span><span class="muted small">{{ b.flag }}</span>
      </button>
      <p class="muted small">Between parts, found by themselves: {{ interfaces.map((b) => b.name).join('; ') || 'none' }}</p>
    </div>
    <div class="scroll">
      <template v-if="!chosen.length">
        <span class="muted">Choose boundaries; or inside the section:</span>
        <ContactsForm />
      </template>
      <div v-else class="form">
        <label>On</label><span>{{ chosen.join('; ') }}</span>
        <label for="kind">Condition</label>
        <select id="kind" class="pad-select" :value="kindOf(condition)" @change="give(value($event))">
          <option value="" disabled>{{ mixed ? 'different ones' : 'none: adiabatic wall' }}</option>
          <option v-if="fluid" value="inlet">inlet</option>
          <option v-if="fluid" value="outlet">outlet</option>
          <option value="symmetry">symmetry</option>
          <option value="adiabatic">wall, adiabatic</option>
          <option value="temperature">wall at a temperature</option>
          <option value="heat_flux">wall with a heat flux</option>
          <option value="heat_rate">wall with a heat rate</option>
          <option value="convection">convection</option>
          <option value="radiation">radiation</option>
          <option value="convection_radiation">convection and radiation</option>
        </select>
        <template v-if="condition?.type === 'inlet'">
          <label for="by">Given by</label>
          <select id="by" class="pad-select" :value="condition.mass_flow ? 'mass' : 'velocity'" @change="change('by', (c) => { const mass = value($event) === 'mass'; c.mass_flow = mass ? '1 g/s' : ''; c.velocity = mass ? '' : '0.1 m/s' })">
            <option value="mass">mass flow</option>
            <option value="velocity">mean velocity</option>
          </select>
          <label for="amount">{{ condition.mass_flow ? 'Mass flow' : 'Mean velocity' }}</label>
          <input id="amount" class="pad-input" :class="{ bad: problemAt(condition.mass_flow ? 'mass_flow' : 'velocity') }" :value="condition.mass_flow || condition.velocity" @change="change('amount', (c) => (c[condition?.type === 'inlet' && condition.mass_flow ? 'mass_flow' : 'velocity'] = value($event)))" />
          <label for="temperature">Temperature</label>
          <input id="temperature" class="pad-input" :class="{ bad: problemAt('temperature') }" :value="text('temperature')" @change="change('temperature', (c) => (c.temperature = value($event)))" />
          <label for="profile">Profile</label>
          <select id="profile" class="pad-select" :value="text('profile')" @change="change('profile', (c) => (c.profile = value($event)))">
            <option value="uniform">uniform</option>
            <option value="developed">fully developed</option>
          </select>
        </template>
        <template v-else-if="condition?.type === 'outlet'">
          <label for="pressure">Pressure (gauge)</label>
          <input id="pressure" class="pad-input" :class="{ bad: problemAt('pressure') }" :value="text('pressure')" @change="change('pressure', (c) => (c.pressure = value($event)))" />
        </template>
        <template v-for="[field, label] in condition?.type === 'wall' ? (wallFields[condition.thermal] ?? []) : []" v-else :key="field">
          <label :for="`wall-${field}`">{{ label }}</label>
          <input :id="`wall-${field}`" class="pad-input" :class="{ bad: problemAt(field) }" :value="text(field)" @change="change(field, (c) => (c[field] = value($event)))" />
        </template>
      </div>
      <ul v-if="problems.length" class="problems" role="alert">
        <li v-for="p in problems" :key="p.field + p.problem" class="fault">{{ p.problem }}; {{ p.remedy }}</li>
      </ul>
    </div>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: minmax(150px, 46%) 1fr; gap: 12px; min-height: 0; flex: 1; }
.list button { font: inherit; color: inherit; background: none; border: 0; border-top: 1px solid var(--hair); padding: 2px 4px; width: 100%; display: flex; justify-content: space-between; gap: 6px; text-align: left; cursor: pointer; white-space: nowrap; }
.list button:hover { background: var(--raised); }
.list button.on { background: var(--heat-wash); }
.list button.doubt { color: var(--doubt); }
.problems { padding-left: 16px; }
</style>
