<script setup lang="ts">
import { computed } from 'vue'

import { useCase } from '../../stores/case'

/** What lies inside the section: heat sources in parts, and contacts between parts that touch. */
const theCase = useCase()
const parts = computed(() => theCase.document?.section.parts ?? [])
const contacts = computed(() => theCase.document?.contacts ?? [])
const free = computed(() =>
  (theCase.sketch?.boundaries ?? []).filter((b) => b.interface && !contacts.value.some((c) => b.name === c.between.join(' | ') || b.name === [...c.between].reverse().join(' | '))),
)
const value = (event: Event) => (event.target as HTMLInputElement).value

function addContact(name: string): void {
  if (name) theCase.edit('contacts.add', (d) => d.contacts.push({ between: name.split(' | '), resistance: '1e-4 m^2*K/W', gap: '', material: '' }))
}
</script>

<template>
  <div class="form inside">
    <template v-for="(part, i) in parts" :key="part.name">
      <label :for="`heat-${i}`">Heat in {{ part.name }}</label>
      <input :id="`heat-${i}`" class="pad-input" :class="{ bad: theCase.problemOf(`section.parts[${i}].heat`) }" :value="part.heat" placeholder="none" title="in watts altogether, or per volume (W/m^3)" :data-heat="part.name" @change="theCase.edit(`section.parts[${i}].heat`, (d) => (d.section.parts[i]!.heat = value($event)))" />
    </template>
    <template v-for="(contact, i) in contacts" :key="`contact${i}`">
      <label :for="`contact-${i}`">{{ contact.between.join(' | ') }}</label>
      <span class="row">
        <input :id="`contact-${i}`" class="pad-input" :class="{ bad: theCase.problemOf(`contacts[${i}].resistance`) }" :value="contact.resistance" @change="theCase.edit(`contacts[${i}].resistance`, (d) => (d.contacts[i]!.resistance = value($event)))" />
        <button class="pad-button quiet small" aria-label="remove the contact" @click="theCase.edit('contacts.remove', (d) => d.contacts.splice(i, 1))">×</button>
      </span>
    </template>
    <template v-if="free.length">
      <label for="new-contact">Contact</label>
      <select id="new-contact" class="pad-select" value="" @change="addContact(value($event))">
        <option value="">add a resistance between…</option>
        <option v-for="b in free" :key="b.name" :value="b.name">{{ b.name }}</option>
      </select>
    </template>
  </div>
</template>

<style scoped>
.inside { margin-top: 4px; gap: 2px 10px; }
</style>
