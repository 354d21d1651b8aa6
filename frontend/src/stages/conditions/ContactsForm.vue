<script setup lang="ts">
import { computed } from 'vue'

import { unitIn } from '../../quantity/entry'
import QuantityField from '../../quantity/QuantityField.vue'
import PadMenu from '../../pad/PadMenu.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** What lies inside the section: heat sources in parts, and contacts, coatings and thin walls between parts that touch. */
const theCase = useCase()
const units = useUnits()
const parts = computed(() =>
  (theCase.document?.section.parts ?? []).map((part, index) => ({ part, index })).filter(({ part }) => part.material !== 'void'),
)
const contacts = computed(() => theCase.document?.contacts ?? [])
/** Pairs of parts that touch, by the names in the document; copies of a repeated part stand for one. */
const pairs = computed(() => {
  const origin = new Map((theCase.sketch?.parts ?? []).map((p) => [p.name, p.origin]))
  return [
    ...new Set(
      (theCase.sketch?.boundaries ?? [])
        .filter((b) => b.interface)
        .map((b) =>
          b.name
            .split(' | ')
            .map((name) => origin.get(name) ?? name)
            .join(' | '),
        ),
    ),
  ]
})
const free = computed(() =>
  pairs.value.filter(
    (name) => !contacts.value.some((c) => name === c.between.join(' | ') || name === [...c.between].reverse().join(' | ')),
  ),
)
const solids = computed(() => [
  ...Object.keys(theCase.document?.materials ?? {}).map((key) => ({ key, label: key })),
  ...(units.catalogue?.materials ?? []).filter((m) => m.state === 'solid'),
])
const fluids = computed(() => new Set((theCase.sketch?.parts ?? []).filter((p) => p.fluid).flatMap((p) => [p.name, p.origin])))

function kind(between: string[]): string {
  const wet = between.filter((name) => fluids.value.has(name)).length
  return wet === 2 ? 'thin wall' : wet === 1 ? 'coating' : 'contact'
}

function addContact(name: string): void {
  if (!name) return
  const between = name.split(' | ')
  const thin = kind(between) !== 'contact'
  theCase.edit('contacts.add', (d) =>
    d.contacts.push({
      between,
      resistance: thin ? '' : '1e-4 m^2*K/W',
      thickness: thin ? '1 mm' : '',
      material: thin ? 'stainless_304' : '',
    }),
  )
}

function setBy(index: number, by: string): void {
  theCase.edit(`contacts[${index}].by`, (d) =>
    Object.assign(
      d.contacts[index]!,
      by === 'value'
        ? { resistance: '1e-4 m^2*K/W', thickness: '', material: '' }
        : { resistance: '', thickness: '0.1 mm', material: d.contacts[index]!.material || 'stainless_304' },
    ),
  )
}
</script>

<template>
  <div class="form inside">
    <template v-for="{ part, index } in parts" :key="part.name">
      <v-label :id="`heat-${index}-label`" :for="`heat-${index}`">Heat in {{ part.name }}</v-label>
      <QuantityField
        :id="`heat-${index}`"
        v-tip="'in watts altogether, or per volume (W/m^3)'"
        :problem="theCase.problemOf(`section.parts[${index}].heat`)"
        :value="part.heat"
        :unit="unitIn(part.heat ?? '') || 'W'"
        placeholder="none"
        :data-heat="part.name"
        @enter="theCase.setText(`section.parts[${index}].heat`, $event, 'power', 'W')"
      />
    </template>
    <template v-for="(contact, i) in contacts" :key="`contact${i}`">
      <v-label :id="`contact-${i}-label`" v-tip="kind(contact.between)" :for="`contact-${i}`">{{
        contact.between.join(' | ')
      }}</v-label>
      <span class="row">
        <span class="muted small">{{ kind(contact.between) }}</span>
        <v-select
          :aria-label="`how the ${kind(contact.between)} is given`"
          :model-value="contact.thickness || contact.material ? 'layer' : 'value'"
          :items="[
            { value: 'value', title: 'as a value' },
            { value: 'layer', title: 'as a layer' },
          ]"
          @update:model-value="setBy(i, $event)"
        />
        <template v-if="contact.thickness || contact.material">
          <QuantityField
            :id="`contact-${i}`"
            aria-label="thickness"
            :problem="theCase.problemOf(`contacts[${i}].thickness`)"
            :value="contact.thickness"
            :unit="unitIn(contact.thickness ?? '') || 'mm'"
            @enter="theCase.setText(`contacts[${i}].thickness`, $event)"
          />
          <v-select
            class="material"
            aria-label="material of the layer"
            :model-value="contact.material"
            :items="solids.map((m) => ({ value: m.key, title: m.label }))"
            @update:model-value="theCase.setText(`contacts[${i}].material`, $event)"
          />
        </template>
        <QuantityField
          v-else
          :id="`contact-${i}`"
          :problem="theCase.problemOf(`contacts[${i}].resistance`)"
          :value="contact.resistance"
          :unit="unitIn(contact.resistance ?? '') || 'm²·K/W'"
          @enter="theCase.setText(`contacts[${i}].resistance`, $event, 'contact_resistance', 'm^2*K/W')"
        />
        <v-btn
          variant="text"
          size="small"
          aria-label="take it away"
          @click="theCase.edit('contacts.remove', (d) => d.contacts.splice(i, 1))"
          >×</v-btn
        >
      </span>
    </template>
    <template v-if="free.length">
      <span class="label">Between parts</span>
      <PadMenu
        label="add a contact…"
        data-test="new-contact"
        :items="free.map((name) => ({ value: name, title: `${name}: ${kind(name.split(' | '))}` }))"
        @choose="addContact"
      />
    </template>
  </div>
</template>

<style scoped>
.inside {
  margin-top: 4px;
  gap: 2px 10px;
}
.inside .pad-select {
  padding: 0 2px;
}
.material {
  max-width: 96px;
}
</style>
