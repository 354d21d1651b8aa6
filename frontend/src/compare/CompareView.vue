<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take, type CaseDocument } from '../api/client'
import { colourTable, greyTable, mapOfKind } from '../design/colourMaps'
import Plot, { type Series } from '../desk/Plot.vue'
import PadMenu from '../pad/PadMenu.vue'
import { saveTable } from '../pad/tables'
import { useUnits } from '../quantity/units'
import ColourScale from '../sketch/ColourScale.vue'
import type { Paint } from '../sketch/raster'
import { fit, type Viewport } from '../sketch/viewport'
import { curvesOf } from '../stages/read/curves'
import { readLineAt, type LineAt } from '../stores/lines'
import { useComparing } from './comparing'
import FieldTile from './FieldTile.vue'

/** Two to six runs side by side: one range, one zoom, what was given differently, ledgers in columns, profiles over each other. */
const route = useRoute()
const router = useRouter()
const units = useUnits()
void units.load()
const numbers = computed(() =>
  String(route.query.runs ?? '')
    .split(',')
    .map(Number)
    .filter((n) => Number.isInteger(n) && n > 0),
)
const c = useComparing(() => numbers.value)
const runs = computed(() => c.compared.value?.runs ?? [])
/** Runs of one case are told by their numbers, others by their titles. */
const titles = computed(() => {
  const same = (title: string) => runs.value.filter((run) => run.title === title).length > 1
  return runs.value.map((run) => (same(run.title) ? `${run.title}, run ${run.run}` : run.title))
})

/** What tells them apart: titles without the words that all begin with. */
const short = computed(() => {
  const words = titles.value.map((title) => title.split(' '))
  let same = 0
  while (words.every((w) => w.length > same + 1 && w[same] === words[0]![same])) same++
  return words.map((w) => w.slice(same).join(' '))
})

const kind = computed(() => c.scaled.value.find((f) => f !== null)?.kind ?? 'number')
const map = computed(() => (c.differences.value ? 'heather' : (mapOfKind[kind.value] ?? 'ember')))
const paintOf = (i: number): Paint => {
  const plain = c.differences.value && i === 0
  const field = c.shown.value[0]
  const [low, high] = plain && field ? [field.low, field.high] : c.range.value
  const name = plain ? (mapOfKind[field?.kind ?? ''] ?? 'ember') : map.value
  return { low, high, table: colourTable(name), grey: greyTable(name), bands: 0, band: null, hidden: [] }
}
const paints = computed(() => runs.value.map((_, i) => paintOf(i)))
const parts = computed(() =>
  c.scaled.value.flatMap((field, i) => {
    const side = c.sides.value[c.differences.value ? i + 1 : i]
    return field && side && field.values.length === side.areas.length ? [{ field, areas: side.areas }] : []
  }),
)

// One view for all: tiles are of one size.
const size = ref<[number, number]>([0, 0])
const moved = shallowRef<Viewport | null>(null)
const NONE = { x0: 14, y0: 10, x1: 14, y1: 10 }
const view = computed<Viewport | null>(() => {
  if (!c.bounds.value || !size.value[0]) return null
  return moved.value ?? fit(c.bounds.value, ...size.value, NONE, false)
})
watch(size, () => (moved.value = null))
const columns = computed(() => (runs.value.length <= 3 ? runs.value.length : runs.value.length === 4 ? 2 : 3))

// Ledgers in columns.
const wantedOnly = ref(true)
const ledger = computed(() => {
  const rows = c.compared.value?.ledger ?? []
  const wanted = rows.filter((row) => row.wanted)
  return wantedOnly.value && wanted.length ? wanted : rows
})
const change = (row: { values: (number | null)[]; kind: string }, i: number): string => {
  const [first, value] = [row.values[0], row.values[i]]
  if (i === 0 || typeof first !== 'number' || typeof value !== 'number') return ''
  // A percentage of a temperature depends on its scale: its difference is told.
  if (row.kind === 'temperature')
    return `${signed(units.shownDifference(value - first, row.kind))} ${units.differenceLabel(row.kind)}`
  return first === 0 ? '' : `${signed((100 * (value - first)) / Math.abs(first))} %`
}
const signed = (value: number) => `${value > 0 ? '+' : ''}${Number(value.toPrecision(3))}`

function handOn(how: string): void {
  const above = ['quantity', 'unit', ...titles.value.flatMap((t, i) => (i ? [t, `${t}, change`] : [t]))]
  const rows = (c.compared.value?.ledger ?? []).map((row) => [
    row.name,
    units.label(row.kind),
    ...row.values.flatMap((value, i) => {
      const shown = value === null ? null : Number(units.shown(value, row.kind).toPrecision(7))
      return i ? [shown, change(row, i)] : [shown]
    }),
  ])
  void saveTable(how === 'xlsx' ? 'xlsx' : 'csv', 'comparison', above, rows)
}

// Profiles along a line of the first case, in all runs.
const document = shallowRef<CaseDocument | null>(null)
watch(
  () => runs.value[0]?.case,
  async (id) => {
    if (id) document.value = (await take(api.GET('/api/cases/{case}', { params: { path: { case: id } } }))).document
  },
)
const lines = computed(() => document.value?.reading?.lines ?? [])
const lineName = ref('')
const line = computed(() => lines.value.find((one) => one.name === lineName.value) ?? lines.value[0] ?? null)
const found = shallowRef<(LineAt | string)[]>([])
watch([line, runs, c.time], async () => {
  const now = line.value
  found.value = []
  if (!now) return
  const answers = await Promise.all(
    runs.value.map(async (run) => {
      const frame = c.frameOf(run)
      const body = { lines: [now], frames: frame === undefined ? [] : [frame], reference: '' as const }
      try {
        const [line] = await take(api.POST('/api/runs/{run}/lines', { params: { path: { run: run.run } }, body }))
        return line!.problem || readLineAt(line!.at[0]!)
      } catch (error) {
        return error instanceof Error ? error.message : String(error)
      }
    }),
  )
  if (now === line.value) found.value = answers
})
const plottedName = ref('')
const plotted = computed(() => plottedName.value || c.fieldName.value)
const plottable = computed(() => {
  const first = found.value.find((at): at is LineAt => typeof at === 'object')
  return [...(first?.profiles[0]?.fields.keys() ?? [])]
})
const series = computed<Series[]>(() =>
  found.value.flatMap((at, i) =>
    typeof at === 'object'
      ? curvesOf(at, short.value[i] ?? '', plotted.value, 'along', 'plain').map((curve) => ({
          name: curve.name,
          points: curve.x.flatMap((x, k): [number, number][] =>
            Number.isFinite(curve.y[k]!) ? [[units.shown(x, 'length'), units.shown(curve.y[k]!, curve.kind)]] : [],
          ),
        }))
      : [],
  ),
)
const plottedKind = computed(() => {
  const first = found.value.find((at): at is LineAt => typeof at === 'object')
  return first?.profiles[0]?.fields.get(plotted.value)?.kind ?? 'number'
})
const said = (run: { cells: number | null }) => (run.cells ? `${run.cells.toLocaleString('en')} cells` : '')
</script>

<template>
  <main class="compare">
    <header class="row">
      <RouterLink to="/" class="muted">Projects</RouterLink><span class="muted">/</span>
      <h1>Compare</h1>
      <v-select
        v-if="c.offered.value.length"
        v-model="c.fieldName.value"
        class="what"
        aria-label="field"
        data-test="compared-field"
        :items="c.offered.value.map((f) => f.name)"
      />
      <v-checkbox
        v-model="c.differences.value"
        v-tip="'each minus the first, on its own grid; between different grids what lies in each cell is kept'"
        label="differences from the first"
        data-test="differences"
      />
      <template v-if="c.times.value.length > 1">
        <v-slider
          class="time"
          min="0"
          :max="c.times.value.length - 1"
          step="1"
          aria-label="time"
          :model-value="c.time.value === null ? c.times.value.length - 1 : c.times.value.indexOf(c.time.value)"
          @update:model-value="c.time.value = c.times.value[$event] ?? null"
        />
        <output>{{ c.time.value === null ? 'at the end' : units.withUnit(c.time.value, 'time', 4) }}</output>
      </template>
      <span class="grow"></span>
      <v-btn variant="text" size="small" :disabled="!moved" @click="moved = null">show all</v-btn>
      <v-btn v-if="runs[0]" variant="text" size="small" @click="router.push(`/cases/${runs[0].case}/read`)">back to the desk</v-btn>
    </header>
    <p v-if="c.problem.value" class="fault" role="alert">{{ c.problem.value }}</p>
    <p v-else-if="numbers.length < 2" class="muted">
      Choose two to six solved cases on the home page, or runs of a case under Read.
    </p>
    <p v-else-if="!c.compared.value" class="muted" role="status">Reading the runs …</p>
    <template v-else>
      <div class="tiles" :style="{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }">
        <FieldTile
          v-for="(run, i) in runs"
          :key="run.run"
          :title="titles[i]!"
          :said="c.differences.value && i === 0 ? `${c.fieldName.value}, as it is` : said(run)"
          :sketch="run.sketch"
          :mesh="c.sides.value[i]?.mesh ?? null"
          :field="c.shown.value[i] ?? null"
          :paint="paints[i]!"
          :map="map"
          :view="view"
          :problem="c.problemOf(i)"
          @size="(width, height) => i === 0 && (size = [width, height])"
          @view="moved = $event"
          @whole="moved = null"
        />
      </div>
      <section class="sheet scale" aria-label="one range for all">
        <ColourScale
          :name="c.differences.value ? 'difference' : c.fieldName.value"
          :kind="kind"
          :low="c.span.value[0]"
          :high="c.span.value[1]"
          :range="c.range.value"
          :map="map"
          :bands="0"
          :parts="parts"
          @range="(low, high) => (c.chosen.value = [low, high])"
          @whole="c.chosen.value = null"
        />
      </section>
      <div class="below">
        <section class="sheet" aria-label="Given differently">
          <h2>Given differently</h2>
          <div class="scroll">
            <p v-if="!c.compared.value.given.length" class="muted">Nothing: the runs are of one meaning.</p>
            <v-table v-else class="dense" data-test="given-differently">
              <thead>
                <tr>
                  <td></td>
                  <th v-for="(title, i) in short" :key="i" class="number">{{ title }}</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="row in c.compared.value.given" :key="row.name">
                  <td>{{ row.name }}</td>
                  <td v-for="(value, i) in row.values" :key="i" class="number">{{ value }}</td>
                </tr>
              </tbody>
            </v-table>
          </div>
        </section>
        <section class="sheet" aria-label="Ledgers">
          <h2>
            Ledgers <span class="grow"></span>
            <v-checkbox v-model="wantedOnly" label="wanted only" />
            <PadMenu
              label="hand on"
              :items="[
                { title: 'table (CSV)', value: 'csv' },
                { title: 'table (XLSX)', value: 'xlsx' },
              ]"
              @choose="handOn"
            />
          </h2>
          <div class="scroll">
            <v-table class="dense" data-test="compared-ledgers">
              <thead>
                <tr>
                  <th>Quantity</th>
                  <th class="unit">Unit</th>
                  <template v-for="(title, i) in short" :key="i">
                    <th class="number">{{ title }}</th>
                    <th v-if="i" class="number muted">change</th>
                  </template>
                </tr>
              </thead>
              <tbody>
                <tr v-for="row in ledger" :key="row.name">
                  <td>{{ row.name }}</td>
                  <td class="unit">{{ units.label(row.kind) }}</td>
                  <template v-for="(value, i) in row.values" :key="i">
                    <td class="number">{{ value === null ? '–' : units.format(value, row.kind, 4) }}</td>
                    <td v-if="i" class="number muted">{{ change(row, i) }}</td>
                  </template>
                </tr>
              </tbody>
            </v-table>
          </div>
        </section>
        <section class="sheet" aria-label="Profiles">
          <h2>
            Profiles <span class="grow"></span>
            <template v-if="lines.length">
              <v-select
                :model-value="line?.name"
                class="what"
                aria-label="line"
                data-test="compared-line"
                :items="lines.map((l) => l.name)"
                @update:model-value="lineName = $event"
              />
              <v-select
                :model-value="plotted"
                class="what"
                aria-label="plotted quantity"
                :items="plottable.length ? plottable : [plotted]"
                @update:model-value="plottedName = $event"
              />
            </template>
          </h2>
          <p v-if="!lines.length" class="muted">The first case has no lines: draw one under Read.</p>
          <Plot
            v-else
            :series="series"
            :x="`along ${line?.name ?? 'the line'}, ${units.label('length')}`"
            :y="[plotted, units.label(plottedKind)].filter(Boolean).join(', ')"
            :name="`comparison along ${line?.name ?? 'a line'}`"
          />
        </section>
      </div>
    </template>
  </main>
</template>

<style scoped>
.compare {
  height: 100dvh;
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 6px 8px 8px;
}
header h1 {
  font-family: var(--font-title);
  font-size: 17px;
  margin: 0 10px 0 0;
}
.what {
  flex: 0 1 170px;
  min-width: 110px;
}
.time {
  flex: 0 1 220px;
}
.tiles {
  flex: 1;
  display: grid;
  gap: 6px;
  min-height: 180px;
  grid-auto-rows: minmax(0, 1fr);
}
.scale {
  flex: none;
  padding: 0 8px 6px;
}
.below {
  flex: 0 0 324px;
  display: grid;
  gap: 6px;
  min-height: 0;
  grid-template-columns: minmax(200px, 24%) minmax(0, 1fr) minmax(430px, 36%);
}
.below > .sheet {
  min-height: 0;
}
.below h2 {
  font-weight: 600;
}
.below h2 .v-select,
.below h2 .v-checkbox {
  font-family: var(--font-text);
  font-weight: 400;
}
@media (min-height: 1000px) {
  .below {
    flex-basis: 420px;
  }
}
@media (max-width: 959px), (max-height: 499px) {
  .compare {
    height: auto;
    min-height: 100dvh;
  }
  .below {
    grid-template-columns: minmax(0, 1fr);
    flex: none;
  }
  .below > .sheet {
    min-height: 300px;
  }
  .tiles {
    grid-template-columns: minmax(0, 1fr) !important;
    grid-auto-rows: 260px;
  }
}
</style>
