<script setup lang="ts">
import { computed, ref, toRaw } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import TextField from '../../quantity/TextField.vue'
import { withDefaultUnit } from '../../quantity/entry'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useDrawing } from '../../stores/drawing'
import KindForm from '../conditions/KindForm.vue'
import { divideSide, SIDES, type Side } from './divide'
import OwnMaterial from './OwnMaterial.vue'
import RadiationForm from './RadiationForm.vue'
import { renamePart } from './rename'

/** The chosen part: name, material, place and size, turn and repeat; every number can be an expression in the inputs. */
const theCase = useCase()
const drawing = useDrawing()
const units = useUnits()
const part = computed(() => theCase.document?.section.parts[drawing.part])
const at = computed(() => `section.parts[${drawing.part}]`)
const own = computed(() => Object.keys(theCase.document?.materials ?? {}))

type Field = [name: string, label: string, kind?: string, unit?: string, placeholder?: string]
const PLACE: Field[] = [
  ['x', 'x'],
  ['y', 'y'],
]
const SIZES: Record<string, Field[]> = {
  rectangle: [
    ['width', 'width'],
    ['height', 'height'],
  ],
  circle: [['diameter', 'diameter']],
  ring: [
    ['outer_diameter', 'outer diameter'],
    ['inner_diameter', 'inner diameter'],
  ],
  polygon: [],
  curve: [],
  blade: [
    ['chord', 'chord'],
    ['camber', 'camber', 'ratio', ''],
    ['camber_at', 'camber at', 'ratio', ''],
    ['thickness', 'thickness', 'ratio', ''],
    ['edge_radius', 'edge radius', 'length', 'mm', 'least'],
  ],
  outline: [['scale', 'scale', 'number', '']],
}
const REPEATS: Record<string, Field[]> = {
  line: [
    ['count', 'count', 'number', ''],
    ['dx', 'step x'],
    ['dy', 'step y'],
  ],
  grid: [
    ['columns', 'columns', 'number', ''],
    ['rows', 'rows', 'number', ''],
    ['dx', 'pitch x'],
    ['dy', 'pitch y'],
  ],
  staggered: [
    ['columns', 'columns', 'number', ''],
    ['rows', 'rows', 'number', ''],
    ['dx', 'pitch x'],
    ['dy', 'pitch y'],
  ],
  around: [
    ['count', 'count', 'number', ''],
    ['centre_x', 'centre x'],
    ['centre_y', 'centre y'],
    ['angle', 'step', 'angle', 'deg', 'full turn shared'],
  ],
}
const shape = computed(() => part.value?.shape as unknown as Record<string, string> | undefined)
const repeat = computed(() => part.value?.repeat as unknown as Record<string, string> | null | undefined)
const points = computed(() =>
  part.value && 'points' in part.value.shape ? part.value.shape.points.map((p) => p.join(', ')).join('\n') : null,
)
const made = computed(() => {
  const material = part.value?.material ?? ''
  const key = theCase.document?.materials[material]?.base ?? material
  return units.catalogue?.materials.find((m) => m.key === key)
})
const solid = computed(() => made.value?.state === 'solid')
/** Radiation passes gases alone, with nothing in them; what was given before stays in view. */
const radiates = computed(() => (made.value?.phase === 'gas' && !part.value?.internal) || Boolean(part.value?.radiation))
/** What the part can be made of: materials of this case first, then the catalogue. */
const materials = computed(() => [
  { value: 'void', title: 'void, cut away' },
  ...(own.value.length
    ? [{ type: 'subheader', title: 'of this case' }, ...own.value.map((key) => ({ value: key, title: key }))]
    : []),
  { type: 'subheader', title: 'catalogue' },
  ...(units.catalogue?.materials ?? []).map((m) => ({ value: m.key, title: m.label })),
  { value: 'new', title: 'with own properties…' },
])

function rename(text: string): void {
  const now = text.trim()
  if (now) theCase.edit(`${at.value}.name`, (d) => renamePart(d, drawing.part, now))
}

function setMaterial(chosen: string): void {
  theCase.edit(`${at.value}.material`, (d) => {
    const target = d.section.parts[drawing.part]!
    if (chosen !== 'new') target.material = chosen
    else {
      let number = 1
      while (d.materials[`own ${number}`]) number++
      const base = d.materials[target.material]?.base ?? (target.material === 'void' ? 'stainless_304' : target.material)
      d.materials[`own ${number}`] = {
        base,
        pressure: '',
        density: '',
        specific_heat: '',
        viscosity: '',
        conductivity: '',
        conductivity_y: '',
        expansion: '',
        melts_from: '',
        melts_to: '',
        latent_heat: '',
      }
      target.material = `own ${number}`
    }
  })
}

/** What stands in the stream of a fluid part. */
const fluid = computed(() => part.value !== undefined && part.value.material !== 'void' && !solid.value)
const internal = computed(() => part.value?.internal as Record<string, unknown> | null | undefined)
const internalForm = computed(() => (units.catalogue?.internals ?? []).find(({ form }) => form.type === internal.value?.type)?.form)
const internals = computed(() => [
  { value: '', title: 'nothing' },
  ...(units.catalogue?.internals ?? []).map(({ form }) => ({ value: form.type, title: form.options[0]?.label ?? form.type })),
])

function setInternal(chosen: string): void {
  const kind = units.catalogue?.internals.find(({ form }) => form.type === chosen)
  theCase.edit(`${at.value}.internal`, (d) => {
    const fresh = kind ? { ...structuredClone(toRaw(kind.defaults)), ...kind.form.options[0]?.gives } : null
    d.section.parts[drawing.part]!.internal = fresh as (typeof d.section.parts)[number]['internal']
  })
}

/** Radiation between the surfaces around a gas. */
function setRadiation(chosen: string): void {
  theCase.edit(`${at.value}.radiation`, (d) => {
    d.section.parts[drawing.part]!.radiation = chosen ? { emissivity: '0.9', surfaces: [] } : null
  })
}

function changeInternal(what: string, apply: (subject: Record<string, unknown>) => void): void {
  theCase.edit(`${at.value}.internal.${what}`, (d) => {
    const target = d.section.parts[drawing.part]!.internal
    if (target) apply(target as unknown as Record<string, unknown>)
  })
}

function setRepeat(chosen: string): void {
  const pattern = chosen as 'line' | 'grid' | 'staggered' | 'around' | ''
  theCase.edit(`${at.value}.repeat`, (d) => {
    const target = d.section.parts[drawing.part]!
    if (!pattern) target.repeat = null
    else if (target.repeat) target.repeat.pattern = pattern
    else
      target.repeat = {
        pattern,
        count: '2',
        columns: '2',
        rows: '2',
        dx: '20 mm',
        dy: pattern === 'line' ? '0 mm' : '20 mm',
        centre_x: '0 mm',
        centre_y: '0 mm',
        angle: '',
      }
  })
}

/** The side of a rectangle whose divisions are shown. */
const side = ref<Side>('left')
const divided = computed(() => (part.value?.shape.type === 'rectangle' ? part.value.shape.divided : {}))

/** Places apart by semicolons: an expression may have commas of its own. */
function setDivided(text: string): void {
  const places = text
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean)
  theCase.edit(`${at.value}.shape.divided.${side.value}`, (d) =>
    divideSide(
      d,
      drawing.part,
      side.value,
      places.map((text) => withDefaultUnit(text, 'mm')),
    ),
  )
}

/** One point per line, `x, y`; a line that is none stays out until it is. */
function setPoints(text: string): void {
  const rows = text
    .split('\n')
    .map((line) => line.split(/[,;\t]/).map((cell) => cell.trim()))
    .filter((row): row is [string, string] => row.length === 2 && row.every(Boolean))
    .map((row) => row.map((cell) => (/^[-+]?[\d.]+(e[-+]?\d+)?$/i.test(cell) ? `${cell} mm` : cell)))
  if (rows.length < 3) return
  theCase.edit(`${at.value}.shape.points`, (d) => {
    const target = d.section.parts[drawing.part]!.shape
    if ('points' in target) target.points = rows
  })
}
</script>

<template>
  <div v-if="part && shape" class="scroll">
    <div class="pairs">
      <v-label id="part-name-label" for="part-name">name</v-label>
      <QuantityField id="part-name" class="wide" :problem="theCase.problemOf(`${at}.name`)" :value="part.name" @enter="rename" />
      <v-label id="part-material-label" for="part-material">material</v-label>
      <v-select id="part-material" class="wide" :model-value="part.material" :items="materials" @update:model-value="setMaterial" />
      <template v-for="[field, label, kind, unit, placeholder] in [...PLACE, ...(SIZES[part.shape.type] ?? [])]" :key="field">
        <span class="label">{{ label }}</span>
        <TextField
          :path="`${at}.shape.${field}`"
          :value="shape[field]"
          :aria-label="`${label} of ${part.name}`"
          :kind="kind"
          :unit="unit ?? 'mm'"
          :placeholder="placeholder"
        />
      </template>
      <template v-if="part.shape.type === 'rectangle'">
        <v-label id="part-side-label" v-tip="'pieces of a side are boundaries of their own: an inlet beside a wall'" for="part-side"
          >divide</v-label
        >
        <v-select
          id="part-side"
          v-model="side"
          data-test="side"
          :items="
            SIDES.map((name) => ({
              value: name,
              title: divided[name]?.length ? `${name} · ${divided[name].length + 1} pieces` : name,
            }))
          "
        />
        <v-label id="part-divided-label" v-tip="'distances from its left or lower end, apart by semicolons'" for="part-divided"
          >at</v-label
        >
        <QuantityField
          id="part-divided"
          :problem="theCase.problemOf(`${at}.shape.divided.${side}`)"
          data-test="divided"
          :value="(divided[side] ?? []).join('; ')"
          placeholder="nowhere"
          @enter="setDivided"
        />
      </template>
      <template v-if="part.shape.type === 'outline'">
        <span class="label">from</span
        ><span class="muted"
          >{{ part.shape.source || 'a file' }}, {{ part.shape.loops.length }}
          {{ part.shape.loops.length === 1 ? 'loop' : 'loops' }}</span
        >
      </template>
      <template v-if="part.shape.type !== 'circle' && part.shape.type !== 'ring'">
        <span class="label">turned</span>
        <TextField :path="`${at}.angle`" :value="part.angle" aria-label="angle" kind="angle" unit="deg" placeholder="0 deg" />
        <v-label id="part-mirror-label" for="part-mirror">mirror</v-label>
        <v-select
          id="part-mirror"
          :model-value="part.mirror"
          :items="[
            { value: '', title: 'none' },
            { value: 'left_right', title: 'left to right' },
            { value: 'upside_down', title: 'upside down' },
          ]"
          @update:model-value="theCase.setText(`${at}.mirror`, $event)"
        />
      </template>
      <v-label id="part-repeat-label" for="part-repeat">repeat</v-label>
      <v-select
        id="part-repeat"
        :model-value="part.repeat?.pattern ?? ''"
        :items="[
          { value: '', title: 'once' },
          { value: 'line', title: 'in line' },
          { value: 'grid', title: 'in a grid' },
          { value: 'staggered', title: 'staggered' },
          { value: 'around', title: 'around a centre' },
        ]"
        @update:model-value="setRepeat"
      />
      <template v-if="repeat">
        <template v-for="[field, label, kind, unit, placeholder] in REPEATS[repeat.pattern!] ?? []" :key="`repeat ${field}`">
          <span class="label">{{ label }}</span>
          <TextField
            :path="`${at}.repeat.${field}`"
            :value="repeat[field]"
            :aria-label="`${label} of the repeat`"
            :kind="kind"
            :unit="unit ?? 'mm'"
            :placeholder="placeholder"
          />
        </template>
      </template>
      <span v-tip="'not zero: the part is there; an input can switch it'" class="label">present</span>
      <TextField :path="`${at}.present`" :value="part.present" aria-label="present" kind="number" unit="" />
      <template v-if="part.material !== 'void'">
        <span class="label">heat</span>
        <TextField
          :path="`${at}.heat`"
          :value="part.heat"
          aria-label="heat source, W or W/m³"
          kind="power"
          unit="W"
          placeholder="none"
        />
        <template v-if="fluid">
          <v-label id="part-internal-label" v-tip="'a fan, a screen or a packed bed that the fluid passes'" for="part-internal"
            >in it</v-label
          >
          <v-select
            id="part-internal"
            data-test="internal"
            :model-value="(internal?.type as string) ?? ''"
            :items="internals"
            :error-messages="theCase.problemOf(`${at}.internal`)?.problem"
            @update:model-value="setInternal"
          />
          <v-label
            v-if="radiates"
            id="part-radiation-label"
            v-tip="'heat that its surfaces radiate to each other through it'"
            for="part-radiation"
            >radiation</v-label
          >
          <v-select
            v-if="radiates"
            id="part-radiation"
            data-test="radiation"
            :model-value="part.radiation ? 'surfaces' : ''"
            :items="[
              { value: '', title: 'none' },
              { value: 'surfaces', title: 'between its surfaces' },
            ]"
            :error-messages="theCase.problemOf(`${at}.radiation`)?.problem"
            @update:model-value="setRadiation"
          />
        </template>
        <template v-if="solid">
          <span v-tip="'about the axis of the section, or its own centre in a flat one'" class="label">turns at</span>
          <TextField
            :path="`${at}.angular_velocity`"
            :value="part.angular_velocity"
            aria-label="angular velocity"
            kind="angular_velocity"
            unit="rpm"
            placeholder="at rest"
          />
          <template v-if="theCase.document?.physics.flow !== 'laminar'">
            <span v-tip="'equivalent sand roughness of its surface, where turbulent streams wet it'" class="label">roughness</span>
            <TextField
              :path="`${at}.roughness`"
              :value="part.roughness"
              aria-label="roughness"
              kind="length"
              unit="mm"
              placeholder="smooth"
            />
          </template>
        </template>
      </template>
    </div>
    <div v-if="internal && internalForm" class="pairs internal">
      <KindForm
        prefix="internal"
        :subject="internal"
        :form="internalForm"
        :fluid="true"
        :round="theCase.document?.section.extent === 'axisymmetric'"
        :bad="(field) => theCase.problemOf(`${at}.internal.${field}`)"
        @change="changeInternal"
      />
    </div>
    <RadiationForm v-if="part.radiation" :index="drawing.part" />
    <div v-if="points !== null" class="points">
      <v-label id="part-points-label" for="part-points" class="small">points x, y about the place above, one per line</v-label>
      <v-textarea
        id="part-points"
        rows="4"
        :model-value="points"
        :error-messages="theCase.problemOf(`${at}.shape.points`)?.problem"
        spellcheck="false"
        data-test="points"
        @change="setPoints(($event.target as HTMLTextAreaElement).value)"
      />
    </div>
    <OwnMaterial v-if="theCase.document?.materials[part.material]" :name="part.material" />
  </div>
</template>

<style scoped>
.pairs {
  display: grid;
  grid-template-columns: minmax(0, max-content) minmax(84px, 1fr) minmax(0, max-content) minmax(84px, 1fr);
  gap: 2px 7px;
  align-items: center;
}
.internal {
  margin-top: 6px;
  padding-top: 6px;
  border-top: 1px solid var(--hair);
}
.internal :deep(.points) {
  grid-column: 2 / -1;
}
.pairs :deep(label),
.pairs .label {
  color: var(--muted);
  font-size: var(--size-small);
  line-height: 1.15;
}
.pairs .pad-select {
  width: 100%;
  padding: 0 2px;
}
.pairs .pad-input {
  border-bottom-color: var(--hair);
}
.points {
  display: block;
  margin-top: 4px;
}
textarea {
  border: 1px solid var(--hair);
  resize: vertical;
}
</style>
