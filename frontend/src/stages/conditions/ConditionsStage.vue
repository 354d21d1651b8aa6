<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Condition, Schemas } from '../../api/client'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import ContactsForm from './ContactsForm.vue'
import TablesForm from './TablesForm.vue'
import { copiedCondition, copyCondition, endsOf, giveCondition } from './give'

/** The conditions: pick one or many boundaries, give the condition once. */
const theCase = useCase()
const units = useUnits()
const outer = computed(() => (theCase.sketch?.boundaries ?? []).filter((b) => !b.interface))
const interfaces = computed(() => (theCase.sketch?.boundaries ?? []).filter((b) => b.interface))
const opened = ref<string[]>([])

interface Row {
  name: string
  flag: string
  kind: string
  fluid: boolean
  condition: number | null
  /** How many copies of a repeated part share it; 0 for one copy. */
  copies: number
  copy: boolean
}

/** Boundaries; the copies of a repeated part's are one row that opens to single ones. */
const rows = computed<Row[]>(() => {
  const found: Row[] = []
  for (const b of outer.value) {
    if (found.some((row) => row.name === b.general && !row.copy)) continue
    const copies = outer.value.filter((o) => o.general === b.general)
    const flags = new Set(copies.map((c) => c.flag))
    const shared = new Set(copies.map((c) => c.condition))
    found.push({ ...b, name: b.general, flag: flags.size > 1 ? 'different' : b.flag, condition: shared.size > 1 ? null : b.condition, copies: b.general === b.name ? 0 : copies.length, copy: false })
    if (opened.value.includes(b.general)) for (const c of copies) if (c.name !== c.general) found.push({ ...c, copies: 0, copy: true })
  }
  return found
})
const rowOf = (name: string) => rows.value.find((r) => r.name === name) ?? outer.value.find((b) => b.name === name)
const chosen = computed(() => theCase.picked.filter((name) => rowOf(name)))
const index = computed(() => {
  const found = new Set(chosen.value.map((name) => rowOf(name)?.condition ?? null))
  return found.size === 1 ? [...found][0]! : null
})
const mixed = computed(() => new Set(chosen.value.map((name) => rowOf(name)?.condition)).size > 1)
const condition = computed<Condition | null>(() => (index.value === null ? null : (theCase.document?.conditions[index.value] ?? null)))
const fluid = computed(() => chosen.value.every((name) => rowOf(name)?.fluid))
const problems = computed(() => theCase.problems.filter((p) => p.field.startsWith('conditions')))
const problemAt = (field: string) => (index.value === null ? undefined : theCase.problemOf(`conditions[${index.value}].${field}`))

function wall(given: Partial<Pick<Schemas['Wall'], 'thermal' | 'value' | 'ambient' | 'emissivity' | 'surroundings'>>): Condition {
  return { type: 'wall', boundaries: ['x'], present: '1', thermal: 'adiabatic', value: '', ambient: '', emissivity: '', surroundings: '', coating: '', coating_material: '', slide_x: '', slide_y: '', turning: '', centre: [], ...given }
}

const round = computed(() => theCase.document?.section.extent === 'axisymmetric')

/** How what enters is given: one of four ways, each with its field. */
const enteringLabels: Record<string, string> = { mass_flow: 'Mass flow', velocity: 'Mean velocity', total: 'Total pressure', static: 'Static pressure' }
const enteringBy = computed(() => {
  const c = condition.value
  if (c?.type !== 'inlet') return 'mass_flow'
  return c.pressure?.trim() ? (c.pressure_is ?? 'total') : c.mass_flow ? 'mass_flow' : 'velocity'
})
const enteringField = computed(() => (['total', 'static'].includes(enteringBy.value) ? 'pressure' : enteringBy.value))

function giveEntering(c: Record<string, unknown>, by: string): void {
  const pressure = by === 'total' || by === 'static'
  const kept = pressure && c.pressure ? c.pressure : '1 Pa'
  c.mass_flow = by === 'mass_flow' ? '1 g/s' : ''
  c.velocity = by === 'velocity' ? '0.1 m/s' : ''
  c.pressure = pressure ? kept : ''
  if (pressure) c.pressure_is = by
}

/** The two ends of a module among the chosen boundaries, if they are. */
const ends = computed(() => (theCase.sketch ? endsOf(theCase.sketch, chosen.value) : null))
const module = computed(() => (condition.value?.type === 'periodic' ? condition.value : null))
const drives: Record<string, [label: string, first: string]> = {
  mass_flow: ['Mass flow', '1 g/s'],
  velocity: ['Mean velocity', '0.1 m/s'],
  pressure_gradient: ['Pressure gradient', '1 Pa/m'],
}
const drivenBy = computed(() => Object.keys(drives).find((key) => text(key).trim()) ?? 'velocity')

/** How a wall moves. */
const slides: [field: string, label: string][] = [
  ['slide_x', 'Slides along x at'],
  ['slide_y', 'Slides along y at'],
]
const motion = computed(() => {
  const c = condition.value
  if (c?.type !== 'wall') return 'rest'
  return c.turning?.trim() ? 'turns' : c.slide_x?.trim() || c.slide_y?.trim() ? 'slides' : 'rest'
})

function giveMotion(c: Record<string, unknown>, how: string): void {
  c.turning = how === 'turns' ? '60 rpm' : ''
  c.slide_x = how === 'slides' ? '0.1 m/s' : ''
  c.slide_y = how === 'slides' ? '0 m/s' : ''
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
  inlet: () => ({ type: 'inlet', boundaries: ['x'], present: '1', mass_flow: '1 g/s', velocity: '', pressure: '', pressure_is: 'total', turning: '', temperature: '20 degC', profile: 'uniform' }),
  outlet: () => ({ type: 'outlet', boundaries: ['x'], present: '1', pressure: '0 Pa' }),
  symmetry: () => ({ type: 'symmetry', boundaries: ['x'], present: '1' }),
  periodic: () => ({ type: 'periodic', boundaries: ends.value![0], downstream: ends.value![1], present: '1', mass_flow: '', velocity: '0.1 m/s', pressure_gradient: '', temperature: '20 degC', properties_at: '', modules: '1' }),
  adiabatic: () => wall({}),
  temperature: () => wall({ thermal: 'temperature', value: '20 °C' }),
  heat_flux: () => wall({ thermal: 'heat_flux', value: '1 kW/m^2' }),
  heat_rate: () => wall({ thermal: 'heat_rate', value: '100 W' }),
  convection: () => wall({ thermal: 'convection', value: '10 W/m^2/K', ambient: '20 °C' }),
  radiation: () => wall({ thermal: 'radiation', emissivity: '0.9', surroundings: '20 °C' }),
  convection_radiation: () => wall({ thermal: 'convection_radiation', value: '10 W/m^2/K', ambient: '20 °C', emissivity: '0.9', surroundings: '20 °C' }),
}
const solids = computed(() => [...Object.keys(theCase.document?.materials ?? {}).map((key) => ({ key, label: key })), ...(units.catalogue?.materials ?? []).filter((m) => m.state === 'solid')])
const kindOf = (c: Condition | null) => (c === null ? '' : c.type === 'wall' ? c.thermal : c.type)

function give(kind: string): void {
  const make = fresh[kind]
  if (make) theCase.edit('conditions', (d) => giveCondition(d, chosen.value, make(), index.value))
}

/** Change a value for the chosen boundaries only: others that share the condition keep theirs. */
function change(what: string, apply: (c: Record<string, unknown>) => void): void {
  const now = condition.value
  if (!now) return
  theCase.edit(`conditions.${what}`, (d) => {
    const copy = JSON.parse(JSON.stringify(now)) as Condition
    apply(copy as unknown as Record<string, unknown>)
    giveCondition(d, now.type === 'periodic' ? [...now.boundaries, ...now.downstream] : chosen.value, copy, index.value)
  })
}

const copied = ref(copiedCondition())

function copy(): void {
  if (!condition.value) return
  copyCondition(condition.value)
  copied.value = condition.value
}

function paste(): void {
  const kept = copiedCondition()
  if (!kept) return
  // What the chosen boundaries cannot have, an inlet on a solid, is left where it was.
  if ((kept.type === 'inlet' || kept.type === 'outlet') && !fluid.value) return
  if (kept.type === 'periodic') {
    if (ends.value) theCase.edit('conditions.paste', (d) => giveCondition(d, chosen.value, { ...kept, boundaries: ends.value![0], downstream: ends.value![1], present: '1' }, index.value))
    return
  }
  theCase.edit('conditions.paste', (d) => giveCondition(d, chosen.value, { ...kept, present: '1' }, index.value))
}

function open(name: string): void {
  opened.value = opened.value.includes(name) ? opened.value.filter((n) => n !== name) : [...opened.value, name]
}

function toggle(name: string, event: MouseEvent): void {
  if (event.shiftKey || event.ctrlKey) theCase.picked = theCase.picked.includes(name) ? theCase.picked.filter((n) => n !== name) : [...theCase.picked, name]
  else theCase.picked = [name]
}
const value = (event: Event) => (event.target as HTMLInputElement).value
const text = (what: string) => String((condition.value as unknown as Record<string, unknown> | null)?.[what] ?? '')
</script>

<template>
  <h2>
    Conditions <span class="muted small hint-line">click, shift-click or shift-drag on the drawing</span>
    <span class="grow"></span>
    <button class="pad-button quiet small" :disabled="!condition" title="remember this condition, for other boundaries here or in another case" data-test="copy-condition" @click="copy">copy</button>
    <button class="pad-button quiet small" :disabled="!copied || !chosen.length" data-test="paste-condition" :title="copied ? `give the chosen boundaries the copied condition (${kindOf(copied).replaceAll('_', ' ')})` : 'no condition was copied'" @click="paste">paste</button>
  </h2>
  <div class="columns">
    <div class="scroll list" role="listbox" aria-label="boundaries" aria-multiselectable="true">
      <button v-for="b in rows" :key="b.name" role="option" :aria-selected="chosen.includes(b.name)" :class="{ on: chosen.includes(b.name), doubt: b.kind === 'open', copy: b.copy }" :data-boundary="b.name" @click="toggle(b.name, $event)">
        <span>{{ b.name }} <i v-if="b.copies" class="muted small" :title="opened.includes(b.name) ? 'close' : 'each of them'" @click.stop="open(b.name)">× {{ b.copies }} {{ opened.includes(b.name) ? '▾' : '▸' }}</i></span>
        <span class="muted small given" :title="b.flag">{{ b.flag }}</span>
      </button>
      <p class="muted small">Between parts, found by themselves: {{ interfaces.map((b) => b.name).join('; ') || 'none' }}</p>
    </div>
    <div class="scroll">
      <ul v-if="problems.length" class="problems" role="alert">
        <li v-for="p in problems" :key="p.field + p.problem" class="fault">{{ p.problem }}; {{ p.remedy }}</li>
      </ul>
      <template v-if="!chosen.length">
        <span class="muted">Choose boundaries; or inside the section:</span>
        <ContactsForm />
        <TablesForm />
      </template>
      <div v-else class="form">
        <label>On</label>
        <span v-if="module" class="names" :title="`from ${module.boundaries.join('; ')} to ${module.downstream.join('; ')}`">{{ module.boundaries.join('; ') }} → {{ module.downstream.join('; ') }}</span>
        <span v-else class="names" :title="chosen.join('; ')">{{ chosen.join('; ') }}</span>
        <label for="kind">Condition</label>
        <select id="kind" class="pad-select" :value="kindOf(condition)" @change="give(value($event))">
          <option value="" disabled>{{ mixed ? 'different ones' : 'none: adiabatic wall' }}</option>
          <option v-if="fluid" value="inlet">inlet</option>
          <option v-if="fluid" value="outlet">outlet</option>
          <option value="symmetry">symmetry</option>
          <option v-if="ends || module" value="periodic">periodic: ends of a module</option>
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
          <select id="by" class="pad-select" :value="enteringBy" @change="change('by', (c) => giveEntering(c, value($event)))">
            <option value="mass_flow">mass flow</option>
            <option value="velocity">mean velocity</option>
            <option value="total">total pressure</option>
            <option value="static">static pressure</option>
          </select>
          <label for="amount">{{ enteringLabels[enteringBy] }}</label>
          <input id="amount" class="pad-input" :class="{ bad: problemAt(enteringField) }" :value="text(enteringField)" @change="change('amount', (c) => (c[enteringField] = value($event)))" />
          <label for="temperature">Temperature</label>
          <input id="temperature" class="pad-input" :class="{ bad: problemAt('temperature') }" :value="text('temperature')" @change="change('temperature', (c) => (c.temperature = value($event)))" />
          <label v-if="!text('pressure')" for="profile">Profile</label>
          <select v-if="!text('pressure')" id="profile" class="pad-select" :value="text('profile')" @change="change('profile', (c) => (c.profile = value($event)))">
            <option value="uniform">uniform</option>
            <option value="developed">fully developed</option>
          </select>
        </template>
        <template v-else-if="module">
          <label for="drive">Given by</label>
          <select id="drive" class="pad-select" :value="drivenBy" @change="change('drive', (c) => { for (const key of Object.keys(drives)) c[key] = key === value($event) ? drives[key]![1] : '' })">
            <option v-for="([label], key) in drives" :key="key" :value="key">{{ label.toLowerCase() }}</option>
          </select>
          <label for="driven">{{ drives[drivenBy]![0] }}</label>
          <input id="driven" class="pad-input" :class="{ bad: problemAt(drivenBy) }" :value="text(drivenBy)" @change="change('driven', (c) => (c[drivenBy] = value($event)))" />
          <label for="temperature" title="mixed-mean temperature at the upstream end">Enters at</label>
          <input id="temperature" class="pad-input" :class="{ bad: problemAt('temperature') }" :value="text('temperature')" @change="change('temperature', (c) => (c.temperature = value($event)))" />
          <label for="properties" title="temperature at which all properties are taken">Properties at</label>
          <input id="properties" class="pad-input" :class="{ bad: problemAt('properties_at') }" :value="text('properties_at')" placeholder="as it enters" @change="change('properties', (c) => (c.properties_at = value($event)))" />
          <label for="modules">Modules</label>
          <span class="row">
            <input id="modules" class="pad-input" :class="{ bad: problemAt('modules') }" :value="text('modules')" title="how many stand behind each other" @change="change('modules', (c) => (c.modules = value($event)))" />
            <button class="pad-button quiet small" title="let the stream go the other way" data-test="turn-stream" @click="change('ends', (c) => ([c.boundaries, c.downstream] = [c.downstream, c.boundaries]))">turn round</button>
          </span>
        </template>
        <template v-else-if="condition?.type === 'outlet'">
          <label for="pressure">Pressure (gauge)</label>
          <input id="pressure" class="pad-input" :class="{ bad: problemAt('pressure') }" :value="text('pressure')" @change="change('pressure', (c) => (c.pressure = value($event)))" />
        </template>
        <template v-for="[field, label] in condition?.type === 'wall' ? (wallFields[condition.thermal] ?? []) : []" v-else :key="field">
          <label :for="`wall-${field}`">{{ label }}</label>
          <input :id="`wall-${field}`" class="pad-input" :class="{ bad: problemAt(field) }" :value="text(field)" @change="change(field, (c) => (c[field] = value($event)))" />
        </template>
        <template v-if="condition?.type === 'wall' && ['temperature', 'convection', 'radiation', 'convection_radiation'].includes(condition.thermal)">
          <label for="coating" title="a wall or coating outside, not gridded: its thickness and material">Coating</label>
          <span class="row">
            <input id="coating" class="pad-input" :class="{ bad: problemAt('coating') }" :value="text('coating')" placeholder="none: or a thickness, 0.2 mm" @change="change('coating', (c) => { c.coating = value($event); if (!c.coating_material) c.coating_material = 'ptfe' })" />
            <select v-if="text('coating')" class="pad-select" aria-label="material of the coating" :value="text('coating_material')" @change="change('coating_material', (c) => (c.coating_material = value($event)))">
              <option v-for="m in solids" :key="m.key" :value="m.key">{{ m.label }}</option>
            </select>
          </span>
        </template>
        <template v-if="condition?.type === 'wall' && fluid">
          <label for="motion">Motion</label>
          <select id="motion" class="pad-select" data-test="motion" :value="motion" @change="change('motion', (c) => giveMotion(c, value($event)))">
            <option value="rest">at rest</option>
            <option value="turns">turns</option>
            <option v-if="!round" value="slides">slides along itself</option>
          </select>
          <template v-if="motion === 'turns'">
            <label for="turning" :title="round ? 'about the axis of the section' : 'anticlockwise, about its middle'">Turns at</label>
            <input id="turning" class="pad-input" :class="{ bad: problemAt('turning') || problemAt('motion') }" :value="text('turning')" @change="change('turning', (c) => (c.turning = value($event)))" />
          </template>
          <template v-for="[field, label] in motion === 'slides' ? slides : []" :key="field">
            <label :for="field">{{ label }}</label>
            <input :id="field" class="pad-input" :class="{ bad: problemAt(field) || problemAt('motion') }" :value="text(field)" @change="change(field, (c) => (c[field] = value($event)))" />
          </template>
        </template>
        <template v-if="condition">
          <label for="condition-present" title="not zero: the condition holds; an input can switch it">Present</label>
          <input id="condition-present" class="pad-input" :class="{ bad: problemAt('present') }" :value="text('present')" @change="change('present', (c) => (c.present = value($event) || '1'))" />
        </template>
        <p v-if="condition?.type === 'inlet' && enteringBy === 'velocity'" class="muted small hint">Velocity and temperature may vary over the inlet: use the place x, y ({{ '6 m/s*y/(1 cm)*(1 - y/(1 cm))' }}) or a table by its name ({{ 'profile(y)' }}). Flow alone needs no temperature.</p>
        <p v-if="condition?.type === 'wall' && condition.thermal !== 'adiabatic'" class="muted small hint">Values may vary along the boundary: use the place x, y ({{ '20 °C + 5 K*x/(1 m)' }}) or a table by its name ({{ 'profile(x)' }}).</p>
      </div>
    </div>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: minmax(150px, 46%) 1fr; gap: 12px; min-height: 0; flex: 1; }
.list button { font: inherit; color: inherit; background: none; border: 0; border-top: 1px solid var(--hair); padding: 2px 4px; width: 100%; display: flex; justify-content: space-between; gap: 6px; text-align: left; cursor: pointer; white-space: nowrap; }
.given { min-width: 0; overflow: hidden; text-overflow: ellipsis; }
.list button:hover { background: var(--raised); }
.list button.on { background: var(--heat-wash); }
.list button.doubt { color: var(--doubt); }
.problems { padding-left: 16px; margin: 0 0 4px; }
.copy { padding-left: 18px !important; }
.names { max-height: 40px; overflow: auto; }
.hint-line { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; font-weight: 400; font-family: var(--font-text); }
.hint { grid-column: 1 / -1; margin: 0; }
</style>
