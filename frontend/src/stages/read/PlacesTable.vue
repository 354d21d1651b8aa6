<script setup lang="ts">
import { useClipboard } from '@vueuse/core'
import { computed, ref } from 'vue'

import type { LedgerRow } from '../../api/client'
import { useNotices } from '../../pad/notices'
import type { Key } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** What each boundary, interface and part has: heat and temperatures, h and Nusselt number, or forces. */
const theCase = useCase()
const units = useUnits()
const clipboard = useClipboard()
const notices = useNotices()

type Column = [quantity: Key['quantity'] | 'heat', label: string, kind: string]
const VIEWS: Record<string, { label: string; columns: Column[] }> = {
  heat: {
    label: 'heat and temperatures',
    columns: [
      ['heat', 'heat', 'power'],
      ['mean_temperature', 'mean', 'temperature'],
      ['lowest_temperature', 'lowest', 'temperature'],
      ['highest_temperature', 'highest', 'temperature'],
    ],
  },
  coefficients: {
    label: 'h and Nusselt number',
    columns: [
      ['heat', 'heat', 'power'],
      ['surface_h', 'h', 'heat_transfer_coefficient'],
      ['surface_nusselt_number', 'Nu', 'number'],
    ],
  },
  force: {
    label: 'drag and lift',
    columns: [
      ['drag', 'drag', 'force'],
      ['lift', 'lift', 'force'],
      ['drag_coefficient', 'coefficient', 'number'],
      ['body_reynolds_number', 'Reynolds', 'number'],
    ],
  },
}
const which = ref('heat')
const columns = computed(() => VIEWS[which.value]!.columns)
const solved = computed(() => theCase.ledger.filter((row) => row.solved !== null))
/** Where a row is listed: its place, with the side of a surface that has two. */
const placeOf = (row: LedgerRow) => (row.key.other ? `${row.key.place} in ${row.key.other}` : row.key.place)
/** Values of each quantity by place. */
const values = computed(() => {
  const found = new Map<string, Map<string, LedgerRow>>()
  for (const row of solved.value)
    found.set(row.key.quantity, (found.get(row.key.quantity) ?? new Map<string, LedgerRow>()).set(placeOf(row), row))
  return found
})
const offered = computed(() =>
  Object.entries(VIEWS).filter(([, view]) => view.columns.some(([quantity]) => values.value.has(quantity))),
)
/** Heat that passes a surface by its place (an interface in the order of its parts that has temperatures), and where it goes. */
const heats = computed(() => {
  const found = new Map<string, { row: LedgerRow; to: string }>()
  for (const row of solved.value) {
    const { quantity, place, other } = row.key
    if (quantity === 'heat_out' || quantity === 'heat_in') found.set(place, { row, to: quantity === 'heat_out' ? 'out' : 'in' })
    if (quantity !== 'heat_between') continue
    const either = [`${place} | ${other}`, `${other} | ${place}`]
    found.set(either.find((one) => values.value.get('mean_temperature')?.has(one)) ?? either[0]!, { row, to: `→ ${other}` })
  }
  return found
})
const places = computed(() => {
  const found = new Set<string>()
  for (const [quantity] of which.value === 'coefficients' ? columns.value.slice(1) : columns.value)
    for (const place of values.value.get(quantity)?.keys() ?? []) found.add(place)
  if (which.value === 'heat') for (const place of heats.value.keys()) found.add(place)
  return [...found].sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))
})
const cell = (quantity: Column[0], place: string) =>
  quantity === 'heat' ? heats.value.get(place)?.row : values.value.get(quantity)?.get(place)
const shown = (quantity: Column[0], kind: string, place: string, digits: number) =>
  [
    units.format(cell(quantity, place)?.solved, kind, digits),
    quantity === 'heat' && cell(quantity, place)?.solved ? (heats.value.get(place)?.to ?? '') : '',
  ]
    .filter(Boolean)
    .join(' ')

async function copy(): Promise<void> {
  const lines = [['place', ...columns.value.map(([, label, kind]) => `${label} ${units.label(kind)}`.trim())]]
  for (const place of places.value)
    lines.push([place, ...columns.value.map(([quantity, , kind]) => shown(quantity, kind, place, 6))])
  await clipboard.copy(lines.map((line) => line.join('\t')).join('\n'))
  notices.say('the table is copied: paste it into a sheet')
}
</script>

<template>
  <p v-if="!offered.length" class="muted small" data-test="no-places">
    What each boundary, interface and part has is listed here when the run has ended.
  </p>
  <div v-if="offered.length" class="row">
    <v-select
      v-model="which"
      class="small"
      aria-label="what is listed for each place"
      data-test="places"
      :items="offered.map(([key, view]) => ({ value: key, title: view.label }))"
    />
    <span class="grow"></span>
    <v-btn variant="text" size="small" @click="copy">copy</v-btn>
  </div>
  <v-table v-if="offered.length" class="dense small">
    <thead>
      <tr>
        <td></td>
        <th v-for="[quantity, label, kind] in columns" :key="quantity">{{ label }}<br />{{ units.label(kind) }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="place in places" :key="place" :data-place="place">
        <td v-tip="place">{{ place }}</td>
        <td
          v-for="[quantity, , kind] in columns"
          :key="quantity"
          v-tip="cell(quantity, place)?.name"
          class="number"
          :class="{ passing: quantity === 'heat' }"
        >
          {{ shown(quantity, kind, place, 4) }}
        </td>
      </tr>
    </tbody>
  </v-table>
</template>

<style scoped>
/* The name takes the width that the numbers leave. */
.v-table :deep(td:first-child) {
  width: 100%;
  max-width: 0;
  min-width: 56px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.v-table :deep(:is(td, th)) {
  padding-left: 3px !important;
  padding-right: 3px !important;
}
.v-table :deep(:is(td, th):last-child) {
  padding-right: 0 !important;
}
td.passing {
  max-width: 84px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
th {
  white-space: nowrap;
}
</style>
