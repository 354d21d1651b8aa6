<script setup lang="ts">
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'

import { type as typeface } from '../design/tokens'
import { plain } from '../quantity/units'
import { useTheme } from '../stores/theme'

/** A plot with units, legend and a downloadable table. */
export interface Series {
  name: string
  points: [number, number][]
  marks?: boolean
  dashed?: boolean
}

use([LineChart, ScatterChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, SVGRenderer])
const props = defineProps<{
  series: Series[]
  x: string
  y: string
  logarithmic?: boolean
  level?: number | null
  levelName?: string
  name: string
}>()
const theme = useTheme()

const colours = computed(() => {
  const p = theme.palette()
  return [p.ink, p.heat, p.good, p.doubt, p.muted]
})

/** A logarithmic axis spans whole decades of what is plotted. */
const decades = computed(() => {
  if (!props.logarithmic) return {}
  const powers = props.series.flatMap((s) => s.points.filter((q) => q[1] > 0).map((q) => Math.log10(q[1])))
  if (!powers.length) return {}
  return { min: 10 ** Math.floor(Math.min(...powers)), max: 10 ** Math.ceil(Math.max(...powers, Math.min(...powers) + 1)) }
})

const option = computed(() => {
  const p = theme.palette()
  const axis = {
    nameLocation: 'middle' as const,
    nameTextStyle: { color: p.muted, fontSize: 11 },
    axisLabel: {
      color: p.muted,
      fontSize: 10.5,
      formatter: (v: number) => (props.logarithmic && v < 1 ? v.toExponential(0) : String(Number(v.toPrecision(4)))),
    },
    axisLine: { show: true, lineStyle: { color: p.line } },
    splitLine: { lineStyle: { color: p.hair } },
  }
  return {
    animation: false,
    textStyle: { fontFamily: typeface.text, color: p.ink },
    color: colours.value,
    grid: { left: 58, right: 16, top: 22, bottom: 34 },
    // One curve is named by what stands above the plot.
    legend: {
      show: props.series.length > 1,
      top: 0,
      left: 50,
      itemHeight: 8,
      itemWidth: 14,
      itemGap: 8,
      textStyle: { color: p.ink, fontSize: 11 },
    },
    tooltip: {
      trigger: 'axis' as const,
      valueFormatter: (v: unknown) => (typeof v === 'number' ? plain(v, 5) : String(v)),
      backgroundColor: p.raised,
      borderColor: p.line,
      textStyle: { color: p.ink, fontSize: 11 },
    },
    xAxis: {
      ...axis,
      type: 'value' as const,
      scale: true,
      splitNumber: 4,
      name: props.x,
      nameGap: 20,
      axisLabel: { ...axis.axisLabel, hideOverlap: true, formatter: (v: number) => String(Number(v.toPrecision(4))) },
    },
    yAxis: {
      ...axis,
      ...decades.value,
      type: props.logarithmic ? ('log' as const) : ('value' as const),
      scale: true,
      name: props.y,
      nameGap: 46,
    },
    series: props.series.map((s, i) => ({
      name: s.name,
      type: 'line' as const,
      data: props.logarithmic ? s.points.filter((q) => q[1] > 0) : s.points,
      showSymbol: s.marks ?? false,
      symbolSize: 7,
      lineStyle: { width: s.marks ? 0.8 : 1.5, type: s.dashed ? ('dashed' as const) : ('solid' as const) },
      markLine:
        i === 0 && props.level !== null && props.level !== undefined
          ? {
              silent: true,
              symbol: 'none',
              lineStyle: { color: p.heat, type: 'dashed' as const },
              label: { formatter: props.levelName ?? '', color: p.heat, position: 'insideStartTop' as const },
              data: [{ yAxis: props.level }],
            }
          : undefined,
    })),
  }
})

function download(): void {
  const lines = [`series\t${props.x}\t${props.y}`]
  for (const s of props.series) for (const [x, y] of s.points) lines.push(`${s.name}\t${x}\t${y}`)
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([lines.join('\n')], { type: 'text/tab-separated-values' }))
  link.download = `${props.name}.tsv`
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <div class="plot">
    <VChart :option="option" autoresize :update-options="{ notMerge: true }" />
    <v-btn v-tip="'download the plotted values'" class="save" variant="text" size="small" @click="download">download</v-btn>
  </div>
</template>

<style scoped>
.plot {
  position: relative;
  flex: 1;
  min-height: 120px;
  min-width: 0;
}
.save {
  position: absolute;
  right: -4px;
  bottom: -3px;
}
</style>
