<script setup lang="ts">
import { computed, ref } from 'vue'

import type { LedgerRow } from '../../api/client'
import { heatPassing } from '../../quantity/senses'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** What each boundary, interface and part has: heat and temperatures, h and Nusselt number, or forces. */
const theCase = useCase()
const units = useUnits()

/** Stands for the names of heat that passes a surface, which tell its sense. */
const HEAT = 'heat'
type Column = [prefix: string, label: string, kind: string]
const VIEWS: Record<string, { label: string; columns: Column[] }> = {
  heat: { label: 'heat and temperatures', columns: [[HEAT, 'heat', 'power'], ['mean temperature of', 'mean', 'temperature'], ['lowest temperature of', 'lowest', 'temperature'], ['highest temperature of', 'highest', 'temperature']] },
  coefficients: { label: 'h and Nusselt number', columns: [[HEAT, 'heat', 'power'], ['mean h of', 'h', 'heat_transfer_coefficient'], ['mean Nusselt number of', 'Nu', 'number']] },
  force: { label: 'drag and lift', columns: [['drag on', 'drag', 'force'], ['lift on', 'lift', 'force'], ['drag coefficient of', 'coefficient', 'number'], ['Reynolds number of', 'Reynolds', 'number']] },
}
const which = ref('heat')
const columns = computed(() => VIEWS[which.value]!.columns)
const values = computed(() => new Map(theCase.ledger.filter((r) => r.solved !== null).map((r) => [r.name, r])))
const offered = computed(() => Object.entries(VIEWS).filter(([, view]) => view.columns.some(([prefix]) => [...values.value.keys()].some((name) => prefix !== HEAT && name.startsWith(`${prefix} `)))))
/** Heat by place: its row, and where it goes. */
const heats = computed(() => {
  const found = new Map<string, { row: LedgerRow; to: string }>()
  for (const [name, row] of values.value) {
    const passing = heatPassing(name)
    if (!passing) continue
    const turned = passing.places.find((place) => values.value.has(`mean temperature of ${place}`)) ?? passing.places[0]!
    found.set(turned, { row, to: passing.to })
  }
  return found
})
const places = computed(() => {
  const found = new Set<string>()
  for (const [prefix] of which.value === 'coefficients' ? columns.value.slice(1) : columns.value) for (const name of prefix === HEAT ? [] : values.value.keys()) if (name.startsWith(`${prefix} `)) found.add(name.slice(prefix.length + 1))
  if (which.value === 'heat') for (const place of heats.value.keys()) found.add(place)
  return [...found].sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))
})
const cell = (prefix: string, place: string) => (prefix === HEAT ? heats.value.get(place)?.row : values.value.get(`${prefix} ${place}`))
const shown = (prefix: string, kind: string, place: string, digits: number) => [units.format(cell(prefix, place)?.solved, kind, digits), prefix === HEAT && cell(prefix, place)?.solved ? (heats.value.get(place)?.to ?? '') : ''].filter(Boolean).join(' ')

async function copy(): Promise<void> {
  const lines = [['place', ...columns.value.map(([, label, kind]) => `${label} ${units.label(kind)}`.trim())]]
  for (const place of places.value) lines.push([place, ...columns.value.map(([prefix, , kind]) => shown(prefix, kind, place, 6))])
  await navigator.clipboard.writeText(lines.map((line) => line.join('\t')).join('\n'))
}
</script>

<template>
  <p v-if="!offered.length" class="muted small" data-test="no-places">What each boundary, interface and part has is listed here when the run has ended.</p>
  <div v-if="offered.length" class="row">
    <select v-model="which" class="pad-select small" aria-label="what is listed for each place" data-test="places">
      <option v-for="[key, view] in offered" :key="key" :value="key">{{ view.label }}</option>
    </select>
    <span class="grow"></span>
    <button class="pad-button quiet small" @click="copy">copy</button>
  </div>
  <table v-if="offered.length" class="dense small">
    <thead><tr><th></th><th v-for="[prefix, label, kind] in columns" :key="prefix">{{ label }}<br />{{ units.label(kind) }}</th></tr></thead>
    <tbody>
      <tr v-for="place in places" :key="place" :data-place="place">
        <td :title="place">{{ place }}</td>
        <td v-for="[prefix, , kind] in columns" :key="prefix" class="number" :class="{ passing: prefix === HEAT }" :title="cell(prefix, place)?.name">{{ shown(prefix, kind, place, 4) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
td:first-child { max-width: 62px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
table.dense td, table.dense th { padding-left: 2px; padding-right: 2px; }
table.dense td:first-child { padding-left: 0; }
td.passing { max-width: 80px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
th { white-space: nowrap; }
</style>
