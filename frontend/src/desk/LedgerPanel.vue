<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import type { LedgerRow } from '../api/client'
import { withDefaultUnit } from '../quantity/entry'
import { isOf, type Key } from '../quantity/keys'
import { plain, useUnits } from '../quantity/units'
import { useCase } from '../stores/case'
import EvidenceLine from './EvidenceLine.vue'

/** Ledger: wanted, by hand, solved, grid ±, verdict; the hand column follows while one types. */
const props = defineProps<{ still?: boolean }>()
const theCase = useCase()
const units = useUnits()
const all = ref(false)
const copied = ref(false)
const stale = computed(() => theCase.staleBecause.length > 0)
/** What each surface and part has, and the balances, are told elsewhere; here by choice. */
const ELSEWHERE = new Set<Key['quantity']>([
  'heat_between', 'heat_out', 'heat_in', 'heat_released', 'mean_temperature', 'highest_temperature', 'lowest_temperature', 'surface_h', 'surface_nusselt_number',
  'mean_shear', 'highest_shear', 'separation', 'separation_angle', 'reattachment', 'drag', 'drag_coefficient', 'lift', 'lift_coefficient', 'body_reynolds_number',
  'mass_balance', 'heat_balance',
])
const main = computed(() => theCase.ledger.filter((row) => row.wanted || row.by_hand || !ELSEWHERE.has(row.key.quantity)))
const rows = computed(() => (all.value && !props.still ? theCase.ledger : main.value))
const hidden = computed(() => theCase.ledger.length - main.value.length)

function spread(row: LedgerRow): string {
  if (row.grid_plus_minus === null) return ''
  return plain(units.shownDifference(row.grid_plus_minus, row.kind), 2)
}

function shortVerdict(row: LedgerRow): string {
  const leftOut = row.by_hand?.leaves_out?.length ?? 0
  if (row.agrees === true) return leftOut ? `agrees, leaving out ${leftOut}` : 'agrees'
  if (row.verdict.startsWith('leaves out') && leftOut > 1) return `leaves out ${leftOut} things`
  return row.verdict
    .replace(/^solved lies .* outside its range/, 'hand out of range')
    .replace(/ \([^)]*of its difference[^)]*\)/, '')
    .replace('the hand calculation', 'hand')
    .replace('not reached in this run', 'not reached')
    .replace('not among what was solved', 'not solved')
}

/** What backs a hand value: its source, range and scatter, and what of the case it has not read. */
function behind(row: LedgerRow): string {
  const hand = row.by_hand
  if (!hand) return ''
  const lines = [hand.source, hand.range, `usual scatter ${units.format(hand.low, row.kind)} to ${units.format(hand.high, row.kind)}`]
  if (hand.leaves_out?.length) lines.unshift(`leaves out: ${hand.leaves_out.join('; ')}`)
  return lines.join('\n')
}

function target(row: LedgerRow): string {
  if (row.target === null) return row.wanted ? 'wanted' : ''
  return `${row.sense === 'at_most' ? '≤ ' : ''}${units.format(row.target, row.kind)}`
}

/** Keep a quantity among those wanted, or let it go. */
function want(row: LedgerRow): void {
  theCase.edit(`wanted.${row.name}`, (d) => {
    const at = d.wanted.findIndex((w) => isOf(row, w.key))
    if (at >= 0) d.wanted.splice(at, 1)
    else d.wanted.push({ key: row.key, target: '', sense: 'at_least' })
  })
}

const editing = ref('')
const field = ref<HTMLInputElement[] | null>(null)

/** The target as it was typed. */
function entered(row: LedgerRow): string {
  const wish = theCase.document?.wanted.find((w) => isOf(row, w.key))
  return wish?.target ? `${wish.sense === 'at_most' ? '≤ ' : ''}${wish.target}` : ''
}

async function begin(name: string): Promise<void> {
  if (props.still) return
  editing.value = name
  await nextTick()
  field.value?.[0]?.select()
}

/** Take a typed target into the case: empty and not wanted before means nothing, empty otherwise takes it away. */
function finish(row: LedgerRow, event: Event): void {
  if (editing.value !== row.name) return
  editing.value = ''
  const text = (event.target as HTMLInputElement).value.trim()
  const sense = /^(<=|<|≤)/.test(text) ? 'at_most' : 'at_least'
  const value = withDefaultUnit(text.replace(/^(<=|>=|<|>|≤|≥)\s*/, ''), units.label(row.kind))
  theCase.edit(`wanted.${row.name}`, (d) => {
    const at = d.wanted.findIndex((w) => isOf(row, w.key))
    if (!value) {
      if (at >= 0) d.wanted.splice(at, 1)
    } else if (at >= 0) Object.assign(d.wanted[at]!, { key: row.key, target: value, sense })
    else d.wanted.push({ key: row.key, target: value, sense })
  })
}

async function copy(): Promise<void> {
  const lines = [['quantity', 'unit', 'wanted', 'by hand', 'solved', 'grid ±', 'verdict']]
  for (const row of theCase.ledger) {
    lines.push([row.name, units.label(row.kind), target(row), units.format(row.by_hand?.value, row.kind, 6), units.format(row.solved, row.kind, 6), spread(row), row.verdict])
  }
  await navigator.clipboard.writeText(lines.map((line) => line.join('\t')).join('\n'))
  copied.value = true
  window.setTimeout(() => (copied.value = false), 1500)
}
</script>

<template>
  <section class="sheet" aria-label="Ledger" data-test="ledger">
    <h2>
      Ledger
      <span v-if="stale && theCase.solution" class="small heat stale" data-test="stale" :title="theCase.staleBecause.join(', ')">solved before {{ theCase.staleBecause.slice(0, 2).join(', ') }}{{ theCase.staleBecause.length > 2 ? ' …' : '' }} changed</span>
      <span class="grow"></span>
      <template v-if="!still">
        <button v-if="hidden" class="pad-button quiet small" @click="all = !all">{{ all ? 'fewer' : `${hidden} more` }}</button>
        <button class="pad-button quiet small" @click="copy">{{ copied ? 'copied' : 'copy' }}</button>
        <a v-if="theCase.solution" class="pad-button quiet small" :href="`/api/runs/${theCase.solution.id}/ledger.csv`">table</a>
      </template>
    </h2>
    <div class="scroll">
      <table class="dense">
        <thead>
          <tr><th></th><th>Wanted</th><th>By hand</th><th>Solved</th><th>Grid ±</th><th></th><th class="verdict">Verdict</th></tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.name" :class="{ wanted: row.wanted }" :data-row="row.name">
            <td :title="row.definition"><button v-if="!still && all" class="keep" :class="{ on: row.wanted }" :aria-pressed="row.wanted" :title="row.wanted ? 'let it go from the ledger' : 'keep it in the ledger'" :data-want="row.name" @click="want(row)">{{ row.wanted ? '●' : '○' }}</button>{{ row.name }}</td>
            <td class="number target" :class="row.target === null ? 'muted small' : row.meets ? 'good' : 'doubt'">
              <input v-if="editing === row.name" ref="field" class="pad-input number" :value="entered(row)" :aria-label="`target for ${row.name}`" placeholder="≤ or ≥" :data-target-edit="row.name" @keydown.enter="finish(row, $event)" @keydown.esc="editing = ''" @blur="finish(row, $event)" />
              <button v-else :tabindex="still ? -1 : 0" title="give a target: 0.85, or ≤ 20 Pa; empty takes it away" :data-target="row.name" @click="begin(row.name)">{{ target(row) || '–' }}</button>
            </td>
            <td class="number hand" :class="{ doubt: row.by_hand && (!row.by_hand.inside || row.by_hand.leaves_out?.length) }" :title="behind(row)">{{ units.format(row.by_hand?.value, row.kind) }}<span v-if="row.by_hand?.leaves_out?.length" class="left-out" aria-label="leaves something out">*</span></td>
            <td class="number solved" :class="{ old: stale }">{{ units.format(row.solved, row.kind) || (theCase.solution && row.wanted ? '–' : '') }}</td>
            <td class="number muted">{{ stale ? '' : spread(row) }}</td>
            <td class="unit"><button :tabindex="still ? -1 : 0" class="muted" title="read in another unit" @click="units.nextUnit(row.kind)">{{ units.label(row.kind) }}</button></td>
            <td class="verdict small" :class="{ good: row.agrees === true, doubt: row.agrees === false }" :title="row.verdict">{{ shortVerdict(row) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="!rows.length" class="muted">No quantity can be calculated yet: correct the problems first.</p>
    </div>
    <EvidenceLine :still="still" />
  </section>
</template>

<style scoped>
.stale { font-family: var(--font-text); font-weight: 500; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
tr.wanted td:first-child, tr.wanted .solved { font-weight: 600; }
.solved { color: var(--ink); }
.old { color: var(--muted); text-decoration: line-through; text-decoration-color: var(--heat); font-weight: 400 !important; }
td:first-child { white-space: nowrap; max-width: max(132px, 12.8vw - 32px); overflow: hidden; text-overflow: ellipsis; }
.keep { font: inherit; color: var(--muted); background: none; border: 0; padding: 0 5px 0 0; cursor: pointer; }
.keep.on { color: var(--heat); }
th { white-space: nowrap; }
.unit { white-space: nowrap; text-align: left; }
.unit button { font: inherit; font-size: var(--size-small); background: none; border: 0; padding: 0; cursor: pointer; }
.unit button:hover { color: var(--heat); }
.target button { font: inherit; color: inherit; background: none; border: 0; padding: 0; cursor: text; }
.target button:hover { text-decoration: underline; }
.target .pad-input { width: 74px; }
.verdict { text-align: left !important; white-space: nowrap; max-width: 118px; overflow: hidden; text-overflow: ellipsis; }
</style>
