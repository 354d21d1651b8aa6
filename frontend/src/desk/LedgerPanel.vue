<script setup lang="ts">
import { useClipboard } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'

import type { LedgerRow } from '../api/client'
import { useNotices } from '../pad/notices'
import { withDefaultUnit } from '../quantity/entry'
import { isOf, type Key } from '../quantity/keys'
import { plain, useUnits } from '../quantity/units'
import { useCase } from '../stores/case'
import EvidenceLine from './EvidenceLine.vue'
import QuantityDialog from './QuantityDialog.vue'

/** Ledger: wanted, by hand, solved, grid ±, verdict; the hand column follows while one types. */
const props = defineProps<{ still?: boolean }>()
const emit = defineEmits<{ fold: []; hand: [] }>()
const theCase = useCase()
const units = useUnits()
const clipboard = useClipboard()
const all = ref(false)
const notices = useNotices()
const stale = computed(() => theCase.staleBecause.length > 0)
/** What each surface and part has, and the balances, are told elsewhere; here by choice. */
const ELSEWHERE = new Set<Key['quantity']>([
  'heat_between',
  'heat_out',
  'heat_in',
  'heat_released',
  'mean_temperature',
  'highest_temperature',
  'lowest_temperature',
  'surface_h',
  'surface_nusselt_number',
  'mean_shear',
  'highest_shear',
  'separation',
  'separation_angle',
  'reattachment',
  'drag',
  'drag_coefficient',
  'lift',
  'lift_coefficient',
  'body_reynolds_number',
  'mass_balance',
  'heat_balance',
  'probe_temperature',
  'probe_lowest_temperature',
  'probe_highest_temperature',
  'probe_speed',
  'probe_uniformity',
  'line_temperature',
  'line_bulk_temperature',
  'line_highest_temperature',
  'line_mass_flow',
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
  if (row.meets !== null && typeof row.margin === 'number' && !row.verdict) return marginOf(row).trim()
  if (row.agrees === true) return leftOut ? `agrees, leaving out ${leftOut}` : 'agrees'
  if (row.verdict.startsWith('leaves out') && leftOut > 1) return `leaves out ${leftOut} things`
  return row.verdict
    .replace(/^solved lies .* outside its range/, 'hand out of range')
    .replace(/ \([^)]*of its difference[^)]*\)/, '')
    .replace('the hand calculation', 'hand')
    .replace('not reached in this run', 'not reached')
    .replace('not among what was solved', 'no such result')
}

/** What backs a hand value: its source, range and scatter, and what of the case it has not read. */
function behind(row: LedgerRow): string {
  const hand = row.by_hand
  if (!hand) return ''
  const lines = [
    hand.source,
    hand.range,
    `usual scatter ${units.format(hand.low, row.kind)} to ${units.format(hand.high, row.kind)}`,
  ]
  if (hand.leaves_out?.length) lines.unshift(`leaves out: ${hand.leaves_out.join('; ')}`)
  return lines.join('\n')
}

/** A target is at least, at most, or just so. */
const SIGNS: Record<string, string> = { at_least: '≥', at_most: '≤', equal: '=' }

function target(row: LedgerRow): string {
  if (row.target === null) return row.wanted ? 'wanted' : ''
  if (row.sense === 'between' && typeof row.upper === 'number')
    return `${plain(units.shown(row.target, row.kind), 3)} to ${plain(units.shown(row.upper, row.kind), 3)}`
  return `${SIGNS[row.sense] ?? ''} ${units.format(row.target, row.kind)}`
}

/** By how much a limit is kept or missed, in words. */
function marginOf(row: LedgerRow): string {
  if (typeof row.margin !== 'number') return ''
  const size = `${plain(units.shownDifference(Math.abs(row.margin), row.kind), 3)} ${units.differenceLabel(row.kind)}`.trim()
  return `${row.meets ? 'met by' : 'missed by'} ${size}\n`
}

/** Keep a quantity among those wanted, or let it go. */
function want(row: LedgerRow): void {
  theCase.edit(`wanted.${row.name}`, (d) => {
    const at = d.wanted.findIndex((w) => isOf(row, w.key))
    if (at >= 0) d.wanted.splice(at, 1)
    else d.wanted.push({ key: row.key, target: '', sense: 'at_least', upper: '' })
  })
}

/** The row that is told in full. */
const explained = ref('')
const shown = computed(() => theCase.ledger.find((row) => row.name === explained.value))
let asker: HTMLElement | null = null

function explain(row: LedgerRow, event: Event): void {
  asker = event.currentTarget as HTMLElement
  explained.value = row.name
}

async function closeExplained(): Promise<void> {
  explained.value = ''
  await nextTick()
  asker?.focus()
}

const editing = ref('')
/** The target being typed. */
const text = ref('')

function begin(row: LedgerRow): void {
  const wish = theCase.document?.wanted.find((w) => isOf(row, w.key))
  const one =
    wish?.sense === 'between' && wish.upper
      ? `${wish.target} to ${wish.upper}`
      : `${SIGNS[wish?.sense ?? 'at_least']} ${wish?.target}`
  text.value = wish?.target ? one : ''
  editing.value = row.name
}

/** Take a typed target into the case: empty and not wanted before means nothing, empty otherwise takes it away. */
function finish(row: LedgerRow): void {
  if (editing.value !== row.name) return
  editing.value = ''
  const typed = text.value.trim()
  // `11 to 13 °C` is between two values; a bare number has the unit of the row.
  const [, from, to] = /^(\S.*?)\s+(?:to|…|–)\s+(\S.*)$/.exec(typed) ?? []
  const sense = to ? 'between' : /^(<=|<|≤)/.test(typed) ? 'at_most' : /^=/.test(typed) ? 'equal' : 'at_least'
  const value = withDefaultUnit((from ?? typed).replace(/^(<=|>=|<|>|≤|≥|=)\s*/, ''), units.label(row.kind))
  const upper = to ? withDefaultUnit(to, units.label(row.kind)) : ''
  theCase.edit(`wanted.${row.name}`, (d) => {
    const at = d.wanted.findIndex((w) => isOf(row, w.key))
    if (!value) {
      if (at >= 0) d.wanted.splice(at, 1)
    } else if (at >= 0) Object.assign(d.wanted[at]!, { key: row.key, target: value, sense, upper })
    else d.wanted.push({ key: row.key, target: value, sense, upper })
  })
}

async function copy(): Promise<void> {
  const lines = [['quantity', 'unit', 'wanted', 'by hand', 'solved', 'grid ±', 'verdict']]
  for (const row of theCase.ledger) {
    lines.push([
      row.name,
      units.label(row.kind),
      target(row),
      units.format(row.by_hand?.value, row.kind, 6),
      units.format(row.solved, row.kind, 6),
      spread(row),
      row.verdict,
    ])
  }
  await clipboard.copy(lines.map((line) => line.join('\t')).join('\n'))
  notices.say('the ledger is copied: paste it into a sheet')
}
</script>

<template>
  <section class="sheet" aria-label="Ledger" data-test="ledger">
    <h2>
      Ledger
      <span v-if="stale && theCase.solution" v-tip="theCase.staleBecause.join(', ')" class="small heat stale" data-test="stale"
        >solved before {{ theCase.staleBecause.slice(0, 2).join(', ')
        }}{{ theCase.staleBecause.length > 2 ? ' …' : '' }} changed</span
      >
      <span class="grow"></span>
      <template v-if="!still">
        <v-btn v-if="hidden" variant="text" size="small" @click="all = !all">{{ all ? 'fewer' : `${hidden} more` }}</v-btn>
        <v-btn
          v-tip="'the hand calculations behind the column: add, bind, switch off'"
          variant="text"
          size="small"
          data-test="by-hand"
          @click="emit('hand')"
          >by hand…</v-btn
        >
        <v-btn variant="text" size="small" @click="copy">copy</v-btn>
        <v-btn v-if="theCase.solution" variant="text" size="small" :href="`/api/runs/${theCase.solution.id}/ledger.csv`"
          >table</v-btn
        >
        <v-btn
          v-tip="'fold the Ledger away'"
          variant="text"
          size="small"
          aria-label="fold the Ledger"
          data-test="fold-ledger"
          @click="emit('fold')"
          >▸</v-btn
        >
      </template>
    </h2>
    <div class="scroll">
      <v-table class="dense">
        <thead>
          <tr>
            <th scope="col">Quantity</th>
            <th scope="col">Wanted</th>
            <th scope="col">By hand</th>
            <th scope="col">Solved</th>
            <th scope="col">Grid ±</th>
            <th scope="col" class="unit">Unit</th>
            <th scope="col" class="verdict">Verdict</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.name" :class="{ wanted: row.wanted }" :data-row="row.name">
            <th v-tip="`${row.name}: ${row.definition}`" scope="row">
              <v-btn
                v-if="!still && all"
                class="cell keep"
                :class="{ on: row.wanted }"
                :aria-pressed="row.wanted"
                :aria-label="row.wanted ? `let ${row.name} go from the ledger` : `keep ${row.name} in the ledger`"
                :data-want="row.name"
                @click="want(row)"
                >{{ row.wanted ? '●' : '○' }}</v-btn><template v-if="still">{{ row.name }}</template
              ><v-btn
                v-else
                class="cell name"
                :aria-label="`${row.name}: what it is, and what stands behind it`"
                :data-explain="row.name"
                @click="explain(row, $event)"
                >{{ row.name }}</v-btn
              >
            </th>
            <td class="number target" :class="row.target === null ? 'muted small' : row.meets ? 'good' : 'doubt'">
              <v-text-field
                v-if="editing === row.name"
                v-model="text"
                autofocus
                :aria-label="`target for ${row.name}`"
                placeholder="≤, ≥ or ="
                :data-target-edit="row.name"
                @focus="($event.target as HTMLInputElement).select()"
                @keydown.enter="finish(row)"
                @keydown.esc="editing = ''"
                @blur="finish(row)"
              />
              <template v-else-if="still">{{ target(row) }}</template>
              <v-btn
                v-else
                v-tip="
                  marginOf(row) +
                  'give a target: ≥ 0.85 (also without a sign), ≤ 20 Pa, = 60 °C, or 11 to 13 °C; empty takes it away'
                "
                class="cell"
                :aria-label="`target for ${row.name}: ${target(row) || 'none'}`"
                :data-target="row.name"
                @click="begin(row)"
                >{{ target(row) || '–' }}</v-btn
              >
            </td>
            <td
              v-tip="behind(row)"
              class="number hand"
              :class="{ doubt: row.by_hand && (!row.by_hand.inside || row.by_hand.leaves_out?.length) }"
            >
              {{ units.format(row.by_hand?.value, row.kind)
              }}<span v-if="row.by_hand?.leaves_out?.length" class="left-out" aria-label="leaves something out">*</span>
            </td>
            <td class="number solved" :class="{ old: stale }">
              {{ units.format(row.solved, row.kind) || (theCase.solution && row.wanted ? '–' : '') }}
            </td>
            <td class="number muted">{{ stale ? '' : spread(row) }}</td>
            <td class="unit">
              <template v-if="still || !units.label(row.kind)">{{ units.label(row.kind) }}</template><v-btn
                v-else
                v-tip="'read in another unit'"
                class="cell muted"
                :aria-label="`unit of ${row.name}: ${units.label(row.kind)}`"
                @click="units.nextUnit(row.kind)"
                >{{ units.label(row.kind) }}</v-btn
              >
            </td>
            <td v-tip="row.verdict" class="verdict small" :class="{ good: row.agrees === true, doubt: row.agrees === false }">
              <div class="told">{{ shortVerdict(row) }}</div>
            </td>
          </tr>
        </tbody>
      </v-table>
      <p v-if="!rows.length" class="muted">No quantity can be calculated yet: correct the problems first.</p>
    </div>
    <EvidenceLine :still="still" />
    <QuantityDialog v-if="shown" :row="shown" :stale="stale" @close="closeExplained" />
  </section>
</template>

<style scoped>
.stale {
  font-family: var(--font-text);
  font-weight: 500;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
tr.wanted th,
tr.wanted .solved {
  font-weight: 600;
}
.solved {
  color: var(--ink);
}
.old {
  color: var(--muted);
  text-decoration: line-through;
  text-decoration-color: var(--heat);
  font-weight: 400 !important;
}
/* The name takes the width that the numbers leave. */
th[scope='row'] {
  white-space: nowrap;
  width: 100%;
  max-width: 0;
  min-width: 98px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.name {
  display: inline-block;
  max-width: 100%;
  padding-left: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  text-align: left;
  vertical-align: middle;
}
.keep + .name {
  max-width: calc(100% - 30px);
}
.name :deep(.v-btn__content) {
  display: inline;
  white-space: nowrap;
}
/* What was asked for is told in full: more lines where one is too short. */
tr.wanted .name {
  height: auto !important;
  padding-block: 3px;
}
tr.wanted .name :deep(.v-btn__content) {
  display: -webkit-box;
  -webkit-line-clamp: 3;
  -webkit-box-orient: vertical;
  overflow: hidden;
  line-height: 1.25;
  white-space: normal;
}
.keep {
  color: var(--muted);
  padding-right: 5px;
}
.keep.on {
  color: var(--heat);
}
th {
  white-space: nowrap;
}
.unit {
  white-space: nowrap;
  text-align: left;
}
.target .v-text-field {
  width: 84px;
}
.scroll {
  container-type: inline-size;
}
.verdict {
  text-align: left !important;
  min-width: 56px;
  max-width: 100px;
}
/* Two lines before it is cut: a goal's miss and its figure are what one came for. */
.told {
  display: -webkit-box;
  -webkit-line-clamp: 2;
  -webkit-box-orient: vertical;
  overflow: hidden;
  line-height: 1.25;
}
@container (min-width: 640px) {
  .verdict {
    max-width: 300px;
  }
}
</style>
