<script setup lang="ts">
import { computed, useTemplateRef, type ComponentPublicInstance } from 'vue'

import type { LedgerRow } from '../api/client'
import { plain, useUnits } from '../quantity/units'
import BandsAxis from './BandsAxis.vue'

/** What a row of the Ledger is, and all that stands behind its numbers. */
const props = defineProps<{ row: LedgerRow; stale: boolean }>()
const emit = defineEmits<{ close: [] }>()
const units = useUnits()
const close = useTemplateRef<ComponentPublicInstance>('close')

const SENSES: Record<string, string> = { at_least: 'at least', at_most: 'at most', equal: 'equal to', between: 'from' }
const withUnit = (value: number | null) => units.withUnit(value, props.row.kind, 5)
const difference = (value: number) =>
  `${plain(units.shownDifference(value, props.row.kind), 2)} ${units.differenceLabel(props.row.kind)}`

const lines = computed<[string, string][]>(() => {
  const { row } = props
  const hand = row.by_hand
  const found: [string, string][] = [['Definition', row.definition]]
  if (row.target !== null) {
    const upper = row.sense === 'between' && typeof row.upper === 'number' ? ` to ${withUnit(row.upper)}` : ''
    found.push(['Wanted', `${SENSES[row.sense] ?? ''} ${withUnit(row.target)}${upper}`])
    if (typeof row.margin === 'number')
      found.push(['Margin', `${row.meets ? 'met by' : 'missed by'} ${difference(Math.abs(row.margin))}`])
  }
  if (hand) {
    found.push(['By hand', withUnit(hand.value)])
    found.push(['Usual scatter', `${withUnit(hand.low)} to ${withUnit(hand.high)}`])
    found.push(['Source', hand.source])
    for (const other of hand.also ?? [])
      found.push([
        'Also usual',
        `${withUnit(other.value)} (${withUnit(other.low)} to ${withUnit(other.high)}) by ${other.source}; ${other.inside ? 'holds for' : 'outside its range'}: ${other.range}`,
      ])
    found.push([hand.inside ? 'Holds for' : 'Outside its range', hand.range])
    if (hand.leaves_out?.length) found.push(['Leaves out', hand.leaves_out.join('; ')])
  }
  if (row.solved !== null) found.push([props.stale ? 'Solved, before a change' : 'Solved', withUnit(row.solved)])
  if (row.grid_plus_minus !== null && !props.stale) found.push(['Grid ±', difference(row.grid_plus_minus)])
  if (row.verdict) found.push(['Verdict', row.verdict])
  return found.map(([name, text]): [string, string] => [name, text.trim()]).filter(([, text]) => text)
})
</script>

<template>
  <v-dialog :model-value="true" max-width="560" @update:model-value="emit('close')" @after-enter="close?.$el.focus()">
    <v-card class="quantity" data-test="quantity">
      <h2 class="pad-title">{{ row.name }}</h2>
      <BandsAxis :row="row" :stale="stale" />
      <dl>
        <template v-for="([name, text], i) in lines" :key="i">
          <dt class="muted">{{ name }}</dt>
          <dd>{{ text }}</dd>
        </template>
      </dl>
      <div class="row">
        <v-btn ref="close" data-test="close-quantity" @click="emit('close')">Close</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.quantity {
  padding: 18px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
dl {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 14px;
  margin: 0;
}
dd {
  margin: 0;
}
</style>
