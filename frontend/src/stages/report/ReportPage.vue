<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRoute } from 'vue-router'

import BalanceBars, { type Balance } from '../../desk/BalanceBars.vue'
import EvidenceLine from '../../desk/EvidenceLine.vue'
import type { Key } from '../../quantity/keys'
import { plain, useUnits } from '../../quantity/units'
import FieldScale from '../../sketch/FieldScale.vue'
import SketchView from '../../sketch/SketchView.vue'
import { useCase } from '../../stores/case'
import { useSizing, type Sizing } from '../../stores/sizing'
import { useReading } from '../../stores/reading'
import { useTheme } from '../../stores/theme'
import ReportViews from './ReportViews.vue'

/** The report on one A4 page; what is seen is what is printed. */
const theCase = useCase()
const sizings = useSizing()
const reading = useReading()
const units = useUnits()
const theme = useTheme()
const ready = ref(false)
const started = ref(false)
const balances = computed(() => (theCase.solution?.summary.balances as Balance[] | undefined) ?? [])
const route = useRoute()
const fresh = computed(() => theCase.solution !== null && theCase.staleBecause.length === 0)
/** Left out of a report where nobody asked for them. */
const NUMBERS = new Set<Key['quantity']>([
  'reynolds_number',
  'body_reynolds_number',
  'nusselt_number',
  'log_mean_nusselt_number',
  'mean_local_nusselt_number',
  'surface_nusselt_number',
])
const rows = computed(() => theCase.ledger.filter((row) => row.wanted || (row.by_hand !== null && !NUMBERS.has(row.key.quantity))))
const sources = computed(() => [...new Set(rows.value.map((row) => row.by_hand?.source).filter(Boolean))])
const today = new Date().toISOString().slice(0, 10)
const sizing = computed(() => {
  const s = theCase.sizing?.summary.sizing as Sizing | undefined
  return s && sizings.holds(s.chosen, s.values) ? s.text : ''
})

onMounted(async () => {
  theme.onPaper = true
  await units.load()
  await theCase.open(Number(route.params.id))
  if (fresh.value) await reading.loadFields()
  started.value = true
  ready.value = !(fresh.value && reading.mesh)
})

onBeforeUnmount(() => (theme.onPaper = false))

function print(): void {
  window.print()
}
</script>

<template>
  <v-theme-provider theme="light">
    <main class="frame">
      <div class="no-print row bar">
        <v-btn :to="`/cases/${route.params.id}/report`">Back to the desk</v-btn>
        <v-btn color="primary" variant="flat" :disabled="!ready" data-test="print" @click="print">Print</v-btn>
      </div>
      <article v-if="theCase.document" class="page" :data-ready="ready || undefined" data-test="report">
        <header>
          <h1>{{ theCase.document.title }}</h1>
          <span class="muted">{{ theCase.projectName }} · {{ today }} · Wattikos</span>
        </header>
        <p v-if="theCase.document.note" class="note small">{{ theCase.document.note }}</p>
        <section class="picture">
          <h2>Sketch</h2>
          <SketchView mode="plain" still />
        </section>
        <section v-if="fresh && reading.mesh" class="picture field">
          <h2>{{ reading.field?.name }}, solved</h2>
          <SketchView mode="field" still /><FieldScale />
        </section>
        <p v-else-if="ready" class="doubt">
          {{
            theCase.solution
              ? `The case has changed since it was solved (${theCase.staleBecause.join(', ')}); solved values are left out.`
              : 'Not solved: all values are calculated by hand.'
          }}
        </p>
        <div class="columns">
          <section>
            <h2>Given</h2>
            <v-table class="dense"
              ><tbody>
                <tr v-for="(item, name) in theCase.document.inputs" :key="name">
                  <td>{{ item.label || name }}</td>
                  <td class="number">{{ theCase.view?.inputs.find((i) => i.name === name)?.text }}</td>
                </tr>
              </tbody></v-table
            >
          </section>
          <section>
            <h2>Ledger</h2>
            <v-table class="dense">
              <thead>
                <tr>
                  <th>Quantity</th>
                  <th>Wanted</th>
                  <th>By hand</th>
                  <th>Solved</th>
                  <th>Grid ±</th>
                  <th class="unit">Unit</th>
                  <th class="unit">Verdict</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="row in rows" :key="row.name" :class="{ wanted: row.wanted }">
                  <td>{{ row.name }}</td>
                  <td class="number">{{ units.format(row.target, row.kind) }}</td>
                  <td class="number">{{ units.format(row.by_hand?.value, row.kind) }}</td>
                  <td class="number">{{ fresh ? units.format(row.solved, row.kind) : '' }}</td>
                  <td class="number">
                    {{
                      fresh && row.grid_plus_minus !== null ? plain(units.shownDifference(row.grid_plus_minus, row.kind), 2) : ''
                    }}
                  </td>
                  <td>{{ units.label(row.kind) }}</td>
                  <td class="verdict">{{ row.agrees === true ? 'agrees' : row.verdict }}</td>
                </tr>
              </tbody>
            </v-table>
          </section>
        </div>
        <p v-if="sizing" class="small"><b>Sizing</b> {{ sizing }}</p>
        <EvidenceLine still />
        <section v-if="fresh && theCase.document.reading?.balances && balances.length">
          <h2>Balances</h2>
          <BalanceBars :balances="balances" />
        </section>
        <p class="small muted sources">
          <template v-if="sources.length">By hand: {{ sources.join('; ') }}. </template>Bulk temperatures are mixed-mean, weighted
          with mass flow.
        </p>
        <ReportViews v-if="fresh && reading.mesh && started" @ready="ready = true" />
      </article>
      <p v-else class="muted">{{ theCase.loadError || 'Loading…' }}</p>
    </main>
  </v-theme-provider>
</template>

<style scoped>
.page :deep(.v-table.dense tbody :is(td, th)) {
  height: auto;
  font-size: 11.5px;
}
.frame {
  height: 100dvh;
  overflow: auto;
  color: var(--ink);
  background: var(--paper);
  padding: 12px;
}
.bar {
  max-width: 210mm;
  margin: 0 auto 10px;
  justify-content: space-between;
}
.page {
  background: #fff;
  /* As wide as on paper: drawings are laid out once, for both. */
  width: 210mm;
  min-height: 285mm;
  margin: 0 auto;
  padding: 12mm 14mm 8mm;
  display: flex;
  flex-direction: column;
  gap: 8px;
  --sheet: #fff;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  border-bottom: 2px solid var(--ink);
}
h1 {
  font-family: var(--font-title);
  font-size: 20px;
  margin: 0;
}
h2 {
  font-family: var(--font-title);
  font-size: 13px;
  margin: 0 0 2px;
}
.note {
  margin: 0;
}
.picture {
  display: flex;
  flex-direction: column;
  height: 192px;
  flex: none;
  break-inside: avoid;
}
.picture.field {
  height: 238px;
}
.columns {
  display: grid;
  grid-template-columns: 206px minmax(0, 1fr);
  gap: 18px;
}
.columns > section {
  min-width: 0;
}
.verdict {
  min-width: 84px;
  overflow-wrap: anywhere;
}
tr {
  break-inside: avoid;
}
.wanted td {
  font-weight: 600;
}
.sources {
  margin: 4px 0 0;
}
p {
  margin: 0;
}
@page {
  size: A4;
  margin: 0;
}
@media print {
  .frame {
    padding: 0;
    height: auto;
    overflow: visible;
    background: #fff;
  }
  .page {
    min-height: 0;
  }
  * {
    -webkit-print-color-adjust: exact;
    print-color-adjust: exact;
  }
}
</style>
