<script setup lang="ts">
import { computed } from 'vue'

import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** What lies inside the section: heat sources in parts, and contacts, coatings and thin walls between parts that touch. */
const theCase = useCase()
const units = useUnits()
const parts = computed(() => (theCase.document?.section.parts ?? []).map((part, index) => ({ part, index })).filter(({ part }) => part.material !== 'void'))
const contacts = computed(() => theCase.document?.contacts ?? [])
/** Pairs of parts that touch, by the names in the document; copies of a repeated part stand for one. */
const pairs = computed(() => {
  const origin = new Map((theCase.sketch?.parts ?? []).map((p) => [p.name, p.origin]))
  return [...new Set((theCase.sketch?.boundaries ?? []).filter((b) => b.interface).map((b) => b.name.split(' | ').map((name) => origin.get(name) ?? name).join(' | ')))]
})
const free = computed(() => pairs.value.filter((name) => !contacts.value.some((c) => name === c.between.join(' | ') || name === [...c.between].reverse().join(' | '))))
const solids = computed(() => [...Object.keys(theCase.document?.materials ?? {}).map((key) => ({ key, label: key })), ...(units.catalogue?.materials ?? []).filter((m) => m.state === 'solid')])
const fluids = computed(() => new Set((theCase.sketch?.parts ?? []).filter((p) => p.fluid).flatMap((p) => [p.name, p.origin])))
const value = (event: Event) => (event.target as HTMLInputElement).value

function kind(between: string[]): string {
  const wet = between.filter((name) => fluids.value.has(name)).length
  return wet === 2 ? 'thin wall' : wet === 1 ? 'coating' : 'contact'
}

function addContact(name: string): void {
  if (!name) return
  const between = name.split(' | ')
  const thin = kind(between) !== 'contact'
  theCase.edit('contacts.add', (d) => d.contacts.push({ between, resistance: thin ? '' : '1e-4 m^2*K/W', thickness: thin ? '1 mm' : '', material: thin ? 'stainless_304' : '' }))
}

function setBy(index: number, by: string): void {
  theCase.edit(`contacts[${index}].by`, (d) => Object.assign(d.contacts[index]!, by === 'value' ? { resistance: '1e-4 m^2*K/W', thickness: '', material: '' } : { resistance: '', thickness: '0.1 mm', material: d.contacts[index]!.material || 'stainless_304' }))
}
</script>

<template>
  <div class="form inside">
    <template v-for="{ part, index } in parts" :key="part.name">
      <label :for="`heat-${index}`">Heat in {{ part.name }}</label>
      <input :id="`heat-${index}`" class="pad-input" :class="{ bad: theCase.problemOf(`section.parts[${index}].heat`) }" :value="part.heat" placeholder="none" title="in watts altogether, or per volume (W/m^3)" :data-heat="part.name" @change="theCase.setText(`section.parts[${index}].heat`, value($event), 'power', 'W')" />
    </template>
    <template v-for="(contact, i) in contacts" :key="`contact${i}`">
      <label :for="`contact-${i}`" :title="kind(contact.between)">{{ contact.between.join(' | ') }}</label>
      <span class="row">
        <span class="muted small">{{ kind(contact.between) }}</span>
        <select class="pad-select" :aria-label="`how the ${kind(contact.between)} is given`" :value="contact.thickness || contact.material ? 'layer' : 'value'" @change="setBy(i, value($event))">
          <option value="value">as a value</option>
          <option value="layer">as a layer</option>
        </select>
        <template v-if="contact.thickness || contact.material">
          <input :id="`contact-${i}`" class="pad-input" aria-label="thickness" :class="{ bad: theCase.problemOf(`contacts[${i}].thickness`) }" :value="contact.thickness" @change="theCase.setText(`contacts[${i}].thickness`, value($event))" />
          <select class="pad-select material" aria-label="material of the layer" :value="contact.material" @change="theCase.setText(`contacts[${i}].material`, value($event))">
            <option v-for="m in solids" :key="m.key" :value="m.key">{{ m.label }}</option>
          </select>
        </template>
        <input v-else :id="`contact-${i}`" class="pad-input" :class="{ bad: theCase.problemOf(`contacts[${i}].resistance`) }" :value="contact.resistance" @change="theCase.setText(`contacts[${i}].resistance`, value($event), 'contact_resistance', 'm^2*K/W')" />
        <button class="pad-button quiet small" aria-label="take it away" @click="theCase.edit('contacts.remove', (d) => d.contacts.splice(i, 1))">×</button>
      </span>
    </template>
    <template v-if="free.length">
      <label for="new-contact">Between parts</label>
      <select id="new-contact" class="pad-select" value="" @change="addContact(value($event))">
        <option value="">add a contact, coating or thin wall…</option>
        <option v-for="name in free" :key="name" :value="name">{{ name }}: {{ kind(name.split(' | ')) }}</option>
      </select>
    </template>
  </div>
</template>

<style scoped>
.inside { margin-top: 4px; gap: 2px 10px; }
.inside .pad-select { padding: 0 2px; }
.material { max-width: 96px; }
</style>
