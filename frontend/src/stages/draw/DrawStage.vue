<script setup lang="ts">
import { computed } from 'vue'

import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** Parts in painter's order with their places, sizes and materials; and what is wrong with the drawing. */
const theCase = useCase()
const units = useUnits()
const parts = computed(() => theCase.document?.section.parts ?? [])
const materials = computed(() => [
  ...Object.keys(theCase.document?.materials ?? {}).map((key) => ({ key, label: `${key} (own)` })),
  ...(units.catalogue?.materials ?? []),
])
const fields = ['x', 'y', 'width', 'height'] as const
const elsewhere = computed(() => theCase.problems.filter((p) => !p.field.startsWith('inputs.') && !p.field.startsWith('conditions')))

function set(index: number, what: (typeof fields)[number], value: string): void {
  theCase.edit(`section.parts[${index}].shape.${what}`, (d) => (d.section.parts[index]!.shape[what] = value))
}

function rename(index: number, name: string): void {
  const now = name.trim()
  const before = parts.value[index]?.name
  if (!now || !before || now === before) return
  theCase.edit(`section.parts[${index}].name`, (d) => {
    d.section.parts[index]!.name = now
    // Conditions and hand calculations follow the part to its new name.
    for (const condition of d.conditions) {
      condition.boundaries = condition.boundaries.map((b) => (b.startsWith(`${before}, `) ? now + b.slice(before.length) : b))
    }
    for (const contact of d.contacts) contact.between = contact.between.map((name) => (name === before ? now : name))
    if (d.estimate?.relation === 'counterflow_plates') {
      for (const role of ['hot', 'cold', 'wall'] as const) if (d.estimate[role] === before) d.estimate[role] = now
    } else if (d.estimate?.relation === 'insulated_pipe') {
      if (d.estimate.fluid === before) d.estimate.fluid = now
      d.estimate.layers = d.estimate.layers.map((name) => (name === before ? now : name))
    }
  })
}

function shift(index: number, step: number): void {
  theCase.edit('section.parts.order', (d) => {
    const [part] = d.section.parts.splice(index, 1)
    if (part) d.section.parts.splice(index + step, 0, part)
  })
}

function add(): void {
  theCase.edit('section.parts.add', (d) => {
    const taken = new Set(d.section.parts.map((p) => p.name))
    let number = d.section.parts.length + 1
    while (taken.has(`part ${number}`)) number++
    const [x0, y0, x1, y1] = (theCase.sketch?.bounds ?? [0, 0, 0.01, 0.01]) as [number, number, number, number]
    const mm = (v: number) => `${Number((v * 1000).toPrecision(4))} mm`
    d.section.parts.push({
      name: `part ${number}`,
      material: 'stainless_304',
      present: '1',
      heat: '',
      shape: { type: 'rectangle', x: mm(x0), y: mm(y1), width: mm(x1 - x0), height: mm((y1 - y0) / 5) },
    })
  })
}

function remove(index: number): void {
  theCase.edit('section.parts.remove', (d) => d.section.parts.splice(index, 1))
}
</script>

<template>
  <h2>
    Parts <span class="muted small">later ones are painted over earlier ones</span>
    <span class="grow"></span>
    <button class="pad-button quiet small" @click="add">add a rectangle</button>
  </h2>
  <div class="scroll">
    <table class="dense parts">
      <thead>
        <tr><th>Part</th><th>Material</th><th>x</th><th>y</th><th>Width</th><th>Height</th><th></th></tr>
      </thead>
      <tbody>
        <tr v-for="(part, i) in parts" :key="i">
          <td><input class="pad-input" :value="part.name" :aria-label="`name of part ${i + 1}`" @change="rename(i, ($event.target as HTMLInputElement).value)" /></td>
          <td>
            <select class="pad-select" :value="part.material" :aria-label="`material of ${part.name}`" @change="theCase.edit(`section.parts[${i}].material`, (d) => (d.section.parts[i]!.material = ($event.target as HTMLSelectElement).value))">
              <option v-for="m in materials" :key="m.key" :value="m.key">{{ m.label }}</option>
            </select>
          </td>
          <td v-for="f in fields" :key="f">
            <input class="pad-input" :class="{ bad: theCase.problemOf(`section.parts[${i}].shape.${f}`) }" :value="part.shape[f]" :title="part.shape[f]" :aria-label="`${f} of ${part.name}`" spellcheck="false" @input="set(i, f, ($event.target as HTMLInputElement).value)" />
          </td>
          <td class="tools">
            <button class="pad-button quiet small" :disabled="i === 0" aria-label="paint earlier" title="paint earlier" @click="shift(i, -1)">↑</button>
            <button class="pad-button quiet small" :disabled="i === parts.length - 1" aria-label="paint later" title="paint later" @click="shift(i, 1)">↓</button>
            <button class="pad-button quiet small" :disabled="parts.length === 1" aria-label="remove the part" title="remove the part" @click="remove(i)">×</button>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="form extent">
      <label for="extent">Extent</label>
      <span class="row">
        <select id="extent" class="pad-select" :value="theCase.document?.section.extent" @change="theCase.edit('section.extent', (d) => (d.section.extent = ($event.target as HTMLSelectElement).value as 'flat' | 'axisymmetric'))">
          <option value="flat">flat, with a depth</option>
          <option value="axisymmetric">axisymmetric about y = 0</option>
        </select>
        <template v-if="theCase.document?.section.extent === 'flat'">
          <label for="depth" class="muted">depth</label>
          <input id="depth" class="pad-input short" :value="theCase.document.section.depth" @input="theCase.edit('section.depth', (d) => (d.section.depth = ($event.target as HTMLInputElement).value))" />
        </template>
      </span>
    </div>
    <ul v-if="elsewhere.length" class="problems" role="alert">
      <li v-for="p in elsewhere" :key="p.field + p.problem" class="fault"><b>{{ p.field }}</b>: {{ p.problem }}; {{ p.remedy }}</li>
    </ul>
  </div>
</template>

<style scoped>
.parts .pad-input { border-bottom-color: var(--hair); }
.parts th { text-align: left; }
.parts td { padding: 1px 3px; }
.parts td:nth-child(1) { width: 19%; }
.parts td:nth-child(2) { width: 20%; }
.parts select { border-color: transparent; background: transparent; width: 100%; }
.tools { white-space: nowrap; width: 58px; }
.tools .pad-button { padding: 0 3px; min-height: 20px; }
.extent { margin-top: 8px; }
.short { width: 110px; }
.problems { margin: 8px 0 0; padding-left: 16px; }
</style>
