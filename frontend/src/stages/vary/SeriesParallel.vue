<script setup lang="ts">
import { ParallelChart } from 'echarts/charts'
import { ParallelComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'

import { colourAt } from '../../design/colourMaps'
import { type as typeface } from '../../design/tokens'
import { useUnits } from '../../quantity/units'
import { useSeries } from '../../stores/series'
import { useTheme } from '../../stores/theme'

/** Every point as a line over parallel axes: inputs, then quantities; coloured by the first quantity. Ranges are drawn on the axes. */
use([ParallelChart, ParallelComponent, SVGRenderer])
const series = useSeries()
const units = useUnits()
const theme = useTheme()
const MOST_QUANTITIES = 5
const columns = computed(() =>
  series.read
    .map((id) => series.placeOf(id))
    .filter((q) => q >= 0)
    .slice(0, MOST_QUANTITIES),
)
const axes = computed(() => [
  ...(series.shown?.varied ?? []).map((_, i) => ({
    title: series.titleOfVaried(i),
    shown: (value: number) => series.placeShown(i, value),
  })),
  ...columns.value.map((q) => {
    const { name, kind } = series.quantities[q]!
    return {
      title: [name, units.label(kind)].filter(Boolean).join(', '),
      shown: (value: number) => units.shown(value, kind),
    }
  }),
])
const lines = computed(() =>
  (series.shown?.points ?? []).flatMap((point) => {
    const values = [...point.place, ...columns.value.map((q) => series.best(point, q))]
    return values.some((v) => v === null || v === undefined)
      ? []
      : [{ number: point.number, values: values.map((v, i) => axes.value[i]!.shown(v!)) }]
  }),
)
const option = computed(() => {
  const p = theme.palette()
  const first = (series.shown?.varied.length ?? 0) as number
  const by = lines.value.map((line) => line.values[first] ?? 0)
  const [low, high] = [Math.min(...by), Math.max(...by)]
  const shade = (value: number) => {
    const share = high > low ? (value - low) / (high - low) : 0.5
    return colourAt('ember', theme.name === 'light' ? 0.08 + 0.72 * share : 0.28 + 0.72 * share)
  }
  return {
    animation: false,
    textStyle: { fontFamily: typeface.text, color: p.ink },
    parallel: { left: 60, right: 90, top: 40, bottom: 18, parallelAxisDefault: { nameLocation: 'end' } },
    parallelAxis: axes.value.map((axis, dim) => ({
      dim,
      name: axis.title,
      scale: true,
      nameTextStyle: { color: p.ink, fontSize: 11, width: 110, overflow: 'break' as const },
      axisLabel: { color: p.muted, fontSize: 10.5 },
      axisLine: { lineStyle: { color: p.line } },
      areaSelectStyle: { color: p.heat, borderColor: p.heat, opacity: 0.25 },
    })),
    series: [
      {
        type: 'parallel' as const,
        inactiveOpacity: 0.06,
        activeOpacity: 1,
        data: lines.value.map((line, i) => ({
          value: line.values,
          lineStyle: { color: shade(by[i]!), width: line.number === series.picked ? 3 : 1.4, opacity: 0.85 },
        })),
      },
    ],
  }
})
const clicked = (event: { dataIndex?: number }) => {
  const line = event.dataIndex === undefined ? undefined : lines.value[event.dataIndex]
  if (line) series.picked = line.number
}
</script>

<template>
  <div class="parallel" data-test="parallel">
    <VChart :option="option as Record<string, unknown>" autoresize @click="clicked" />
  </div>
</template>

<style scoped>
.parallel {
  flex: 1;
  min-height: 120px;
  min-width: 0;
}
</style>
