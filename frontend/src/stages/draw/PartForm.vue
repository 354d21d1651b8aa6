<script setup lang="ts">
import { computed, ref } from 'vue'

import TextField from '../../quantity/TextField.vue'
import { withDefaultUnit } from '../../quantity/entry'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useDrawing } from '../../stores/drawing'
import { divideSide, SIDES, type Side } from './divide'
import OwnMaterial from './OwnMaterial.vue'
import { renamePart } from './rename'

/** The chosen part: name, material, place and size, turn and repeat; every number can be an expression in the inputs. */
const theCase = useCase()
const drawing = useDrawing()
const units = useUnits()
const part = computed(() => theCase.document?.section.parts[drawing.part])
const at = computed(() => `section.parts[${drawing.part}]`)
const own = computed(() => Object.keys(theCase.document?.materials ?? {}))

type Field = [name: string, label: string, kind?: string, unit?: string, placeholder?: string]
const PLACE: Field[] = [['x', 'x'], ['y', 'y']]
const SIZES: Record<string, Field[]> = {
  rectangle: [['width', 'width'], ['height', 'height']],
  circle: [['diameter', 'diameter']],
  ring: [['outer_diameter', 'outer diameter'], ['inner_diameter', 'inner diameter']],
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
  line: [['count', 'count', 'number', ''], ['dx', 'step x'], ['dy', 'step y']],
  grid: [['columns', 'columns', 'number', ''], ['rows', 'rows', 'number', ''], ['dx', 'pitch x'], ['dy', 'pitch y']],
  staggered: [['columns', 'columns', 'number', ''], ['rows', 'rows', 'number', ''], ['dx', 'pitch x'], ['dy', 'pitch y']],
  around: [['count', 'count', 'number', ''], ['centre_x', 'centre x'], ['centre_y', 'centre y'], ['angle', 'step', 'angle', 'deg', 'full turn shared']],
}
const shape = computed(() => part.value?.shape as unknown as Record<string, string> | undefined)
const repeat = computed(() => part.value?.repeat as unknown as Record<string, string> | null | undefined)
const points = computed(() => (part.value && 'points' in part.value.shape ? part.value.shape.points.map((p) => p.join(', ')).join('\n') : null))
const solid = computed(() => {
  const material = part.value?.material ?? ''
  const key = theCase.document?.materials[material]?.base ?? material
  return units.catalogue?.materials.find((m) => m.key === key)?.state === 'solid'
})
const value = (event: Event) => (event.target as HTMLInputElement).value

function rename(event: Event): void {
  const now = value(event).trim()
  if (now) theCase.edit(`${at.value}.name`, (d) => renamePart(d, drawing.part, now))
}

function setMaterial(event: Event): void {
  const chosen = value(event)
  theCase.edit(`${at.value}.material`, (d) => {
    const target = d.section.parts[drawing.part]!
    if (chosen !== 'new') target.material = chosen
    else {
      let number = 1
      while (d.materials[`own ${number}`]) number++
      const base = d.materials[target.material]?.base ?? (target.material === 'void' ? 'stainless_304' : target.material)
      d.materials[`own ${number}`] = { base, pressure: '', density: '', specific_heat: '', viscosity: '', conductivity: '', conductivity_y: '', expansion: '', melts_from: '', melts_to: '', latent_heat: '' }
      target.material = `own ${number}`
    }
  })
}

function setRepeat(event: Event): void {
  const pattern = value(event) as 'line' | 'grid' | 'staggered' | 'around' | ''
  theCase.edit(`${at.value}.repeat`, (d) => {
    const target = d.section.parts[drawing.part]!
    if (!pattern) target.repeat = null
    else if (target.repeat) target.repeat.pattern = pattern
    else target.repeat = { pattern, count: '2', columns: '2', rows: '2', dx: '20 mm', dy: pattern === 'line' ? '0 mm' : '20 mm', centre_x: '0 mm', centre_y: '0 mm', angle: '' }
  })
}

/** The side of a rectangle whose divisions are shown. */
const side = ref<Side>('left')
const divided = computed(() => (part.value?.shape.type === 'rectangle' ? part.value.shape.divided : {}))

/** Places apart by semicolons: an expression may have commas of its own. */
function setDivided(event: Event): void {
  const places = value(event).split(';').map((text) => text.trim()).filter(Boolean)
  theCase.edit(`${at.value}.shape.divided.${side.value}`, (d) => divideSide(d, drawing.part, side.value, places.map((text) => withDefaultUnit(text, 'mm'))))
}

/** One point per line, `x, y`; a line that is none stays out until it is. */
function setPoints(event: Event): void {
  const rows = value(event)
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
      <label for="part-name">name</label>
      <input id="part-name" class="pad-input wide" :class="{ bad: theCase.problemOf(`${at}.name`) }" :value="part.name" @change="rename" />
      <label for="part-material">material</label>
      <select id="part-material" class="pad-select wide" :value="part.material" @change="setMaterial">
        <option value="void">void, cut away</option>
        <optgroup v-if="own.length" label="of this case"><option v-for="key in own" :key="key" :value="key">{{ key }}</option></optgroup>
        <optgroup label="catalogue"><option v-for="m in units.catalogue?.materials ?? []" :key="m.key" :value="m.key">{{ m.label }}</option></optgroup>
        <option value="new">with own properties…</option>
      </select>
      <template v-for="[field, label, kind, unit, placeholder] in [...PLACE, ...(SIZES[part.shape.type] ?? [])]" :key="field">
        <span class="label">{{ label }}</span>
        <TextField :path="`${at}.shape.${field}`" :value="shape[field]" :label="`${label} of ${part.name}`" :kind="kind" :unit="unit ?? 'mm'" :placeholder="placeholder" />
      </template>
      <template v-if="part.shape.type === 'rectangle'">
        <label for="part-side" title="pieces of a side are boundaries of their own: an inlet beside a wall">divide</label>
        <select id="part-side" v-model="side" class="pad-select" data-test="side">
          <option v-for="name in SIDES" :key="name" :value="name">{{ name }}{{ divided[name]?.length ? ` · ${divided[name].length + 1} pieces` : '' }}</option>
        </select>
        <label for="part-divided" title="distances from its left or lower end, apart by semicolons">at</label>
        <input id="part-divided" class="pad-input" :class="{ bad: theCase.problemOf(`${at}.shape.divided.${side}`) }" data-test="divided" :value="(divided[side] ?? []).join('; ')" placeholder="nowhere" :title="theCase.problemOf(`${at}.shape.divided.${side}`)?.problem ?? 'distances from its left or lower end, apart by semicolons'" @change="setDivided" />
      </template>
      <template v-if="part.shape.type === 'outline'">
        <span class="label">from</span><span class="muted">{{ part.shape.source || 'a file' }}, {{ part.shape.loops.length }} {{ part.shape.loops.length === 1 ? 'loop' : 'loops' }}</span>
      </template>
      <template v-if="part.shape.type !== 'circle' && part.shape.type !== 'ring'">
        <span class="label">turned</span>
        <TextField :path="`${at}.angle`" :value="part.angle" label="angle" kind="angle" unit="deg" placeholder="0 deg" />
        <label for="part-mirror">mirror</label>
        <select id="part-mirror" class="pad-select" :value="part.mirror" @change="theCase.setText(`${at}.mirror`, value($event))">
          <option value="">none</option>
          <option value="left_right">left to right</option>
          <option value="upside_down">upside down</option>
        </select>
      </template>
      <label for="part-repeat">repeat</label>
      <select id="part-repeat" class="pad-select" :value="part.repeat?.pattern ?? ''" @change="setRepeat">
        <option value="">once</option>
        <option value="line">in line</option>
        <option value="grid">in a grid</option>
        <option value="staggered">staggered</option>
        <option value="around">around a centre</option>
      </select>
      <template v-if="repeat">
        <template v-for="[field, label, kind, unit, placeholder] in REPEATS[repeat.pattern!] ?? []" :key="`repeat ${field}`">
          <span class="label">{{ label }}</span>
          <TextField :path="`${at}.repeat.${field}`" :value="repeat[field]" :label="`${label} of the repeat`" :kind="kind" :unit="unit ?? 'mm'" :placeholder="placeholder" />
        </template>
      </template>
      <span class="label" title="not zero: the part is there; an input can switch it">present</span>
      <TextField :path="`${at}.present`" :value="part.present" label="present" kind="number" unit="" />
      <template v-if="part.material !== 'void'">
        <span class="label">heat</span>
        <TextField :path="`${at}.heat`" :value="part.heat" label="heat source, W or W/m³" kind="power" unit="W" placeholder="none" />
        <template v-if="solid">
          <span class="label" title="about the axis of the section, or its own centre in a flat one">turns at</span>
          <TextField :path="`${at}.angular_velocity`" :value="part.angular_velocity" label="angular velocity" kind="angular_velocity" unit="rpm" placeholder="at rest" />
        </template>
      </template>
    </div>
    <label v-if="points !== null" class="points">
      <span class="muted small">points x, y about the place above, one per line</span>
      <textarea class="pad-input" rows="4" :value="points" :class="{ bad: theCase.problemOf(`${at}.shape.points`) }" spellcheck="false" data-test="points" @change="setPoints"></textarea>
    </label>
    <OwnMaterial v-if="theCase.document?.materials[part.material]" :name="part.material" />
  </div>
</template>

<style scoped>
.pairs { display: grid; grid-template-columns: minmax(0, max-content) minmax(84px, 1fr) minmax(0, max-content) minmax(84px, 1fr); gap: 2px 7px; align-items: center; }
.pairs label, .pairs .label { color: var(--muted); font-size: var(--size-small); line-height: 1.15; }
.pairs .pad-select { width: 100%; padding: 0 2px; }
.pairs .pad-input { border-bottom-color: var(--hair); }
.points { display: block; margin-top: 4px; }
textarea { border: 1px solid var(--hair); resize: vertical; }
</style>
