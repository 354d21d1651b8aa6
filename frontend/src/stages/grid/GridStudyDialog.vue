<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import Plot, { type Series } from '../../desk/Plot.vue'
import { saveTable } from '../../pad/tables'
import { plain, useUnits } from '../../quantity/units'
import { isOver, stageOf, useCase } from '../../stores/case'

/** A grid study: the case on several grids, what each quantity points to, and which grid is good enough. */
const open = defineModel<boolean>({ required: true })
interface Grid {
  fineness: number
  wished_cells: number | null
  cells: number
  seconds: number
  converged: boolean
}
interface Quantity {
  name: string
  kind: string
  values: number[]
  extrapolated: number
  plus_minus: number[]
  order: number | null
  good_enough: number | null
}
const theCase = useCase()
const units = useUnits()
const run = computed(() => theCase.study)
const running = computed(() => run.value !== null && !isOver(run.value))
const found = computed(() => run.value?.summary.grid_study as { grids: Grid[]; quantities: Quantity[] } | undefined)
const grids = computed(() => found.value?.grids ?? (run.value?.progress.grids as Grid[] | undefined) ?? [])
/** A study of the case as it was says so; its own wishes and the fineness it tries do not count. */
const stale = computed(() => theCase.changedSince(run.value).filter((what) => what !== 'grid'))
const wanted = computed(() => theCase.ledger.filter((row) => row.wanted).map((row) => row.name))
const chosen = ref('')
const ordered = computed(() => {
  const all = found.value?.quantities ?? []
  return [...all.filter((q) => wanted.value.includes(q.name)), ...all.filter((q) => !wanted.value.includes(q.name))]
})
const quantity = computed(() => ordered.value.find((q) => q.name === chosen.value) ?? ordered.value[0] ?? null)
watch(ordered, () => (chosen.value = quantity.value?.name ?? ''))

const wishes = computed(() => theCase.document?.solve.study)
const set = (change: Record<string, number>) =>
  theCase.edit(`solve.study.${Object.keys(change).join()}`, (d) => (d.solve.study = { ...d.solve.study!, ...change }))

const shown = (value: number, kind: string) => units.shown(value, kind)
const series = computed<Series[]>(() => {
  const q = quantity.value
  if (!q) return []
  const at = (k: number, value: number): [number, number] => [grids.value[k]!.cells, shown(value, q.kind)]
  return [
    { name: q.name, marks: true, points: q.values.map((v, k) => at(k, v)) },
    { name: 'with its ±, above', dashed: true, points: q.values.map((v, k) => at(k, v + q.plus_minus[k]!)) },
    { name: 'below', dashed: true, points: q.values.map((v, k) => at(k, v - q.plus_minus[k]!)) },
  ]
})
const width = (q: Quantity, k: number) => plain(units.shownDifference(q.plus_minus[k]!, q.kind), 2)
/** The coarsest grid on which all wanted quantities are good enough. */
const goodEnough = computed(() => {
  const judged = ordered.value.filter((q) => wanted.value.includes(q.name))
  const all = judged.length ? judged : ordered.value.slice(0, 1)
  if (!all.length || all.some((q) => q.good_enough === null)) return null
  return Math.max(...all.map((q) => q.good_enough!))
})

function take(k: number): void {
  const grid = grids.value[k]!
  theCase.edit('grid.study', (d) => {
    if (grid.wished_cells) d.grid.cells = grid.wished_cells
    else d.grid.fineness = grid.fineness
  })
}
const isOwn = (grid: Grid) =>
  grid.wished_cells ? theCase.document?.grid.cells === grid.wished_cells : theCase.document?.grid.fineness === grid.fineness

function handOn(how: 'csv' | 'xlsx'): void {
  const above = ['quantity', 'unit', ...grids.value.flatMap((g) => [`${g.cells} cells`, '±']), 'points to', 'order']
  const rows = ordered.value.map((q) => [
    q.name,
    units.label(q.kind),
    ...q.values.flatMap((v, k) => [Number(shown(v, q.kind).toPrecision(8)), units.shownDifference(q.plus_minus[k]!, q.kind)]),
    Number(shown(q.extrapolated, q.kind).toPrecision(8)),
    q.order,
  ])
  void saveTable(how, 'grid study', above, rows)
}
</script>

<template>
  <v-dialog v-model="open" max-width="1080" aria-label="Grid study">
    <v-card class="study" data-test="grid-study">
      <h2 class="pad-title row">
        Grid study
        <span class="grow"></span>
        <v-btn v-if="running" data-test="stop-study" @click="theCase.stop(run)">Stop</v-btn>
        <v-btn
          v-else
          color="primary"
          variant="flat"
          data-test="start-study"
          :disabled="theCase.problems.length > 0"
          @click="theCase.start('grid_study')"
          >{{ grids.length ? 'Study again' : 'Study' }}</v-btn
        >
        <v-btn variant="text" aria-label="close the grid study" @click="open = false">×</v-btn>
      </h2>
      <div class="row wishes">
        <v-label id="study-grids-label" for="study-grids">Grids</v-label>
        <v-select
          id="study-grids"
          :model-value="wishes?.grids"
          :items="[3, 4, 5, 6]"
          @update:model-value="set({ grids: Number($event) })"
        />
        <v-label id="study-ratio-label" v-tip="'how much finer each is along its edges than the one before'" for="study-ratio"
          >ratio</v-label
        >
        <v-select
          id="study-ratio"
          :model-value="wishes?.ratio"
          :items="[1.2, 1.3, 1.4, 1.6, 2]"
          @update:model-value="set({ ratio: Number($event) })"
        />
        <v-label id="study-enough-label" v-tip="'of the value; of temperatures, of the span of those given'" for="study-enough"
          >good enough</v-label
        >
        <v-select
          id="study-enough"
          :model-value="wishes?.good_enough"
          :items="[0.001, 0.003, 0.01, 0.03, 0.1].map((n) => ({ value: n, title: `${Number((100 * n).toPrecision(2))} %` }))"
          @update:model-value="set({ good_enough: Number($event) })"
        />
      </div>
      <p v-if="running" role="status">
        <v-progress-linear :model-value="100 * Number(run?.progress.fraction ?? 0)" aria-label="progress of the study" />
        <span class="small">{{ run ? stageOf(run) : '' }}</span>
      </p>
      <p v-else-if="run?.state === 'failed'" class="fault" role="alert">{{ run.failure?.problem }}; {{ run.failure?.remedy }}</p>
      <p v-else-if="!grids.length" class="muted">
        The case on its own grid, one finer and some coarser ones: what the quantities point to, and how far each grid is from it.
      </p>
      <p v-if="stale.length && found" class="doubt small">The case has changed since: {{ stale.join(', ') }}.</p>
      <div v-if="grids.length" class="found">
        <div class="scroll">
          <v-select
            v-if="ordered.length"
            v-model="chosen"
            aria-label="quantity"
            data-test="studied"
            :items="ordered.map((q) => q.name)"
          />
          <v-table class="dense" data-test="study-table">
            <thead>
              <tr>
                <th class="number">Cells</th>
                <th class="number">{{ quantity ? units.label(quantity.kind) : '' }}</th>
                <th class="number">±</th>
                <th class="number">s</th>
                <td></td>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(grid, k) in grids" :key="k" :class="{ enough: k === goodEnough }">
                <td class="number">{{ grid.cells.toLocaleString('en') }}</td>
                <td class="number">{{ quantity ? units.format(quantity.values[k], quantity.kind, 5) : '' }}</td>
                <td class="number">{{ quantity ? width(quantity, k) : '' }}</td>
                <td class="number">{{ plain(grid.seconds, 2) }}</td>
                <td>
                  <span v-if="!grid.converged" class="fault small">not converged</span>
                  <span v-else-if="isOwn(grid)" class="muted small">this case's</span>
                  <v-btn v-else variant="text" size="small" :data-take="k" @click="take(k)">take it</v-btn>
                </td>
              </tr>
              <tr v-if="quantity">
                <td class="number muted">points to</td>
                <td class="number">
                  <b>{{ units.format(quantity.extrapolated, quantity.kind, 5) }}</b>
                </td>
                <td colspan="3" class="muted small">
                  {{ quantity.order === null ? 'no order of its own' : `of order ${quantity.order.toFixed(2)}` }}
                </td>
              </tr>
            </tbody>
          </v-table>
          <p v-if="ordered.length" :class="goodEnough === null ? 'doubt' : 'good'" data-test="good-enough">
            {{
              goodEnough === null
                ? 'No grid of these is good enough for all that is wanted.'
                : `Good enough at ${grids[goodEnough]!.cells.toLocaleString('en')} cells for all that is wanted.`
            }}
          </p>
          <div v-if="ordered.length" class="row">
            <v-btn variant="text" size="small" @click="handOn('csv')">CSV</v-btn>
            <v-btn variant="text" size="small" @click="handOn('xlsx')">XLSX</v-btn>
          </div>
        </div>
        <Plot
          v-if="quantity"
          class="chart"
          :series="series"
          x="cells"
          :y="units.label(quantity.kind)"
          logarithmic-x
          :level="shown(quantity.extrapolated, quantity.kind)"
          level-name="points to"
          name="grid study"
        />
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.study {
  padding: 14px 18px;
}
.wishes {
  gap: 8px;
  margin: 6px 0;
}
.wishes .v-label {
  flex: none;
}
.wishes .v-select {
  flex: 0 1 130px;
}
.found {
  display: grid;
  grid-template-columns: 390px minmax(0, 1fr);
  gap: 14px;
  height: min(430px, 60vh);
}
.chart {
  min-height: 260px;
}
.enough td {
  background: color-mix(in srgb, var(--good) 12%, transparent);
}
@media (max-width: 959px) {
  .found {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
}
</style>
