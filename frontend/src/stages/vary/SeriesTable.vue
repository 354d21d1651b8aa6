<script setup lang="ts">
import { computed, ref } from 'vue'

import { saveTable, type Cell } from '../../pad/tables'
import { useUnits } from '../../quantity/units'
import { useSeries, type SeriesPoint } from '../../stores/series'

/** The points of a series as a table: sorted by any column, filtered by what is written in it, ticked to be compared. */
const series = useSeries()
const units = useUnits()
const filter = ref('')
const varied = computed(() => series.shown?.varied ?? [])
const columns = computed(() => series.read.map((id) => series.placeOf(id)).filter((q) => q >= 0))
const anySolved = computed(() => series.shown?.points.some((p) => p.solved?.length && p.state) ?? false)
const anyHand = (q: number) => series.shown?.points.some((p) => p.hand[q] != null) ?? false
const headers = computed(() => [
  { title: '', key: 'tick', sortable: false, width: 34 },
  { title: '#', key: 'number', width: 52, align: 'end' as const },
  ...varied.value.map((one, i) => ({ title: one.label, key: `v${i}`, align: 'end' as const })),
  ...columns.value.flatMap((q) => {
    const { name, kind } = series.quantities[q]!
    const unit = units.label(kind)
    const own = (key: string, column: string) => ({
      title: `${name}, ${column}${unit ? `, ${unit}` : ''}`,
      key: `${key}${q}`,
      align: 'end' as const,
    })
    const hand = anyHand(q) ? [own('hand', 'by hand')] : []
    return anySolved.value ? [...hand, own('solved', 'solved')] : hand
  }),
  ...(anySolved.value ? [{ title: 'state', key: 'state' }] : []),
])
const WORDS: Record<string, string> = { done: 'solved', lost: 'its run is gone' }
const stateOf = (p: SeriesPoint) =>
  p.state === 'running' ? `${Math.round(100 * (p.fraction ?? 0))} %` : (WORDS[p.state ?? ''] ?? p.state ?? '')
const rows = computed(() =>
  (series.shown?.points ?? []).map((p) => ({
    point: p,
    number: p.number + 1,
    ...Object.fromEntries(varied.value.map((_, i) => [`v${i}`, p.place[i] ?? p.values[i]])),
    ...Object.fromEntries(
      columns.value.flatMap((q) => [
        [`hand${q}`, p.hand[q] ?? null],
        [`solved${q}`, p.solved?.[q] ?? null],
      ]),
    ),
    state: stateOf(p),
  })),
)
const matching = computed(() => {
  const words = filter.value.trim().toLowerCase()
  return words ? rows.value.filter((row) => [...row.point.values, row.state].join(' ').toLowerCase().includes(words)) : rows.value
})
const format = (value: number | null, q: number) => (value === null ? '' : units.format(value, series.quantities[q]!.kind, 5))
const tick = (number: number, on: boolean) =>
  (series.ticked = on ? [...series.ticked, number] : series.ticked.filter((one) => one !== number))
function handOn(how: 'csv' | 'xlsx'): void {
  const titles = headers.value.slice(1).map((h) => h.title)
  const cells = matching.value.map((row): Cell[] => [
    row.number,
    ...row.point.values,
    ...columns.value.flatMap((q) => {
      const { kind } = series.quantities[q]!
      const shown = (value: number | null | undefined) => (value == null ? null : units.shown(value, kind))
      const hand = anyHand(q) ? [shown(row.point.hand[q])] : []
      return anySolved.value ? [...hand, shown(row.point.solved?.[q])] : hand
    }),
    ...(anySolved.value ? [row.state] : []),
  ])
  void saveTable(how, 'series', titles, cells)
}
type Row = (typeof rows.value)[number] & Record<string, unknown>
</script>

<template>
  <div class="table">
    <div class="row">
      <v-text-field v-model="filter" class="filter" placeholder="only rows with …" aria-label="filter of the points" clearable />
      <span class="grow"></span>
      <v-btn variant="text" size="small" @click="handOn('csv')">CSV</v-btn>
      <v-btn variant="text" size="small" @click="handOn('xlsx')">XLSX</v-btn>
    </div>
    <v-data-table-virtual
      :headers="headers"
      :items="matching"
      density="compact"
      fixed-header
      item-value="number"
      class="dense"
      data-test="series-table"
      :row-props="({ item }: { item: Row }) => ({ class: { picked: item.point.number === series.picked } })"
      @click:row="(_: unknown, row: { item: Row }) => (series.picked = row.item.point.number)"
    >
      <template #[`item.tick`]="{ item }">
        <v-checkbox
          v-if="item.point.state === 'done'"
          density="compact"
          hide-details
          :model-value="series.ticked.includes(item.point.number)"
          :aria-label="`compare point ${item.number}`"
          @click.stop
          @update:model-value="tick(item.point.number, Boolean($event))"
        />
      </template>
      <template #[`item.number`]="{ item }">
        <v-btn
          variant="text"
          size="small"
          :aria-label="`point ${item.number}`"
          :aria-pressed="item.point.number === series.picked"
          @click.stop="series.picked = item.point.number"
          >{{ item.number }}</v-btn
        >
      </template>
      <template v-for="(_, i) in varied" :key="i" #[`item.v${i}`]="{ item }">{{ item.point.values[i] }}</template>
      <template v-for="q in columns" :key="`h${q}`" #[`item.hand${q}`]="{ item }">
        <span class="number">{{ format(item.point.hand[q] ?? null, q) }}</span>
      </template>
      <template v-for="q in columns" :key="`s${q}`" #[`item.solved${q}`]="{ item }">
        <b class="number">{{ format(item.point.solved?.[q] ?? null, q) }}</b>
      </template>
      <template #[`item.state`]="{ item }">
        <span :class="{ fault: item.point.state === 'failed' }" :title="item.point.problem">{{ item.state }}</span>
      </template>
    </v-data-table-virtual>
  </div>
</template>

<style scoped>
.table {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  min-width: 0;
}
.filter {
  max-width: 220px;
}
.table > .dense {
  flex: 1 1 0;
  min-height: 0;
}
.table :deep(tr.picked) {
  background: var(--hair);
}
.table :deep(tbody tr) {
  cursor: pointer;
}
.table :deep(td.v-data-table-column--align-end) {
  text-align: end;
}
.table :deep(td) {
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
</style>
