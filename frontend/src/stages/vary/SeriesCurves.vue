<script setup lang="ts">
import { computed } from 'vue'

import Plot, { type Series } from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { useSeries, type SeriesPoint } from '../../stores/series'
import { familiesAlong, MOST_FAMILIES } from './families'

/** Quantities along one input, a line for each combination of the others; by hand as lines, solved as marks with their ±. */
const series = useSeries()
const units = useUnits()
const at = computed(() => series.along)
const families = computed(() => (series.shown ? familiesAlong(series.shown, at.value) : []))
const places = computed(() => series.read.map((id) => series.placeOf(id)).filter((q) => q >= 0))
/** Quantities of the first one's kind are on the left axis, those of the next other kind on the right. */
const kinds = computed(() => [...new Set(places.value.map((q) => series.quantities[q]!.kind))].slice(0, 2))
/** Spread points lie nowhere in order: marks without lines. */
const scattered = computed(() => families.value.length > MOST_FAMILIES)

interface Made extends Series {
  numbers: number[]
}
const made = computed<Made[]>(() => {
  const found: Made[] = []
  const placeOf = (p: SeriesPoint) => series.placeShown(at.value, p.place[at.value]!)
  let coloured = 0
  const groups = scattered.value ? [{ name: '', points: families.value.flatMap((f) => f.points) }] : families.value
  for (const q of places.value) {
    const { kind, name } = series.quantities[q]!
    if (!kinds.value.includes(kind)) continue
    for (const group of groups) {
      const colour = coloured++
      const several = places.value.length > 1
      const called = [several || !group.name ? name : '', group.name].filter(Boolean).join(', ')
      const add = (what: 'hand' | 'solved') => {
        const points = group.points.filter((p) => p[what]?.[q] != null)
        if (!points.length) return
        found.push({
          name: what === 'solved' ? `${called}, solved` : called,
          second: kind !== kinds.value[0],
          marks: what === 'solved' || scattered.value || points.length < 3,
          line: !scattered.value && (what === 'hand' || group.points.every((p) => p.hand[q] == null)),
          colour,
          onLine: what === 'solved' && group.points.some((p) => p.hand[q] != null),
          points: points.map((p): [number, number] => [placeOf(p), units.shown(p[what]![q]!, kind)]),
          spread: what === 'solved' ? points.map((p) => spreadOf(p, q, kind)) : undefined,
          numbers: points.map((p) => p.number),
        })
      }
      add('hand')
      add('solved')
    }
  }
  return found
})
const spreadOf = (p: SeriesPoint, q: number, kind: string) => {
  const spread = p.plus_minus?.[q]
  return spread == null ? null : units.shownDifference(spread, kind)
}
const titleOf = (kind: string | undefined) => {
  const names = places.value.filter((q) => series.quantities[q]!.kind === kind).map((q) => series.quantities[q]!.name)
  return names.length === 1 ? [names[0], kind ? units.label(kind) : ''].filter(Boolean).join(', ') : kind ? units.label(kind) : ''
}
const pick = (i: number, k: number) => (series.picked = made.value[i]?.numbers[k] ?? null)
</script>

<template>
  <div class="curves">
    <Plot :series="made" :x="series.titleOfVaried(at)" :y="titleOf(kinds[0])" :y2="titleOf(kinds[1])" name="series" @pick="pick" />
  </div>
</template>

<style scoped>
.curves {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  min-width: 0;
}
.curves > .plot {
  display: flex;
}
</style>
