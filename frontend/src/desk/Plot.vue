<script setup lang="ts">
import { CustomChart, LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'

import { saveFile } from '../api/client'
import { type as typeface } from '../design/tokens'
import { useNotices } from '../pad/notices'
import PadMenu from '../pad/PadMenu.vue'
import { copyPicture, pngOf } from '../pad/pictures'
import { saveTable } from '../pad/tables'
import { plain } from '../quantity/units'
import { useTheme } from '../stores/theme'

/** A plot with units and a legend, handed on as a picture or as its values. */
export interface Series {
  name: string
  points: [number, number][]
  marks?: boolean
  dashed?: boolean
  /** On a second axis at the right. */
  second?: boolean
  /** Whether points are joined; they are unless it is said otherwise. */
  line?: boolean
  /** The number of its colour; that of its place otherwise. */
  colour?: number
  /** Whether it lies on a line of the same colour, which names it. */
  onLine?: boolean
  /** By point, how far it may lie to either side. */
  spread?: (number | null)[]
}

use([CustomChart, LineChart, ScatterChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, SVGRenderer])
const props = defineProps<{
  series: Series[]
  x: string
  y: string
  /** Name of the second axis, where a series is on it. */
  y2?: string
  logarithmic?: boolean
  logarithmicX?: boolean
  level?: number | null
  levelName?: string
  /** A place along x that is marked, such as the instant that is shown. */
  moment?: number | null
  name: string
}>()
/** A point was clicked: which of which series. */
const emit = defineEmits<{ pick: [series: number, point: number] }>()
const theme = useTheme()
const notices = useNotices()
const chart = ref<InstanceType<typeof VChart> | null>(null)

const colours = computed(() => {
  const p = theme.palette()
  return theme.name === 'light'
    ? [p.ink, p.heat, p.good, p.doubt, '#2b6f8a', '#7d4a78', p.muted]
    : [p.ink, p.heat, p.good, p.doubt, '#74b6cf', '#cf9ac9', p.muted]
})
// Lines are told apart without colour too.
const DASHES = ['solid', 'dashed', 'dotted', [8, 3, 2, 3]] as const
const dashOf = (s: Series, i: number) => (s.dashed ? 'dashed' : DASHES[Math.floor(i / colours.value.length) % DASHES.length])

/** A logarithmic axis spans whole decades of what is plotted. */
function decadesOf(axis: 0 | 1, second = false): { min?: number; max?: number } {
  const powers = props.series
    .filter((s) => axis === 0 || Boolean(s.second) === second)
    .flatMap((s) => s.points.filter((q) => q[axis] > 0).map((q) => Math.log10(q[axis])))
  if (!powers.length) return {}
  return { min: 10 ** Math.floor(Math.min(...powers)), max: 10 ** Math.ceil(Math.max(...powers, Math.min(...powers) + 1)) }
}

/** Where the lying axis begins: at zero for what begins near it. */
const beginning = ({ min, max }: { min: number; max: number }) => (min > 0 && min < 0.05 * max ? 0 : min)

const hasSecond = computed(() => props.series.some((s) => s.second))
const option = computed(() => {
  const p = theme.palette()
  const label = (logarithmic?: boolean) => (v: number) =>
    logarithmic && v < 1 ? v.toExponential(0) : String(Number(v.toPrecision(4)))
  const axis = {
    nameLocation: 'middle' as const,
    nameTextStyle: { color: p.muted, fontSize: 11 },
    axisLabel: { color: p.muted, fontSize: 10.5, formatter: label(props.logarithmic) },
    axisLine: { show: true, lineStyle: { color: p.line } },
    splitLine: { lineStyle: { color: p.hair } },
  }
  const upright = (second: boolean) => ({
    ...axis,
    ...(props.logarithmic ? decadesOf(1, second) : {}),
    type: props.logarithmic ? ('log' as const) : ('value' as const),
    scale: true,
    name: second ? (props.y2 ?? '') : props.y,
    nameGap: second ? 44 : 46,
    splitLine: second ? { show: false } : axis.splitLine,
  })
  const usable = (q: [number, number]) => (!props.logarithmic || q[1] > 0) && (!props.logarithmicX || q[0] > 0)
  const marks = [
    ...(props.level !== null && props.level !== undefined
      ? [{ yAxis: props.level, label: { formatter: props.levelName ?? '' } }]
      : []),
    ...(props.moment !== null && props.moment !== undefined ? [{ xAxis: props.moment, label: { show: false } }] : []),
  ]
  return {
    animation: false,
    textStyle: { fontFamily: typeface.text, color: p.ink },
    color: colours.value,
    grid: { left: 62, right: hasSecond.value ? 62 : 16, top: props.series.length > 1 ? 26 : 14, bottom: 36 },
    // One curve is named by what stands above the plot; many are paged, above the axes.
    legend: {
      type: 'scroll' as const,
      // Marks that lie on a line of their own colour are named by it.
      data: props.series.flatMap((s) => (s.onLine ? [] : [s.name])),
      show: props.series.length > 1,
      top: 0,
      left: 50,
      right: 10,
      itemHeight: 8,
      itemWidth: 22,
      itemGap: 10,
      textStyle: { color: p.ink, fontSize: 11 },
      pageTextStyle: { color: p.muted },
      pageIconColor: p.ink,
      pageIconInactiveColor: p.line,
      pageIconSize: 10,
    },
    tooltip: {
      trigger: 'axis' as const,
      confine: true,
      valueFormatter: (v: unknown) => (typeof v === 'number' ? plain(v, 5) : String(v)),
      backgroundColor: p.raised,
      borderColor: p.line,
      textStyle: { color: p.ink, fontSize: 11 },
    },
    xAxis: {
      ...axis,
      ...(props.logarithmicX ? decadesOf(0) : {}),
      type: props.logarithmicX ? ('log' as const) : ('value' as const),
      scale: true,
      // As long as what is plotted.
      ...(props.logarithmicX ? {} : { min: beginning, max: 'dataMax' as const }),
      splitNumber: 5,
      name: props.x,
      nameGap: 20,
      axisLabel: { ...axis.axisLabel, hideOverlap: true, showMinLabel: true, formatter: label(props.logarithmicX) },
    },
    yAxis: hasSecond.value ? [upright(false), upright(true)] : upright(false),
    series: [
      ...props.series.map((s, i) => ({
        name: s.name,
        type: 'line' as const,
        color: s.colour === undefined ? undefined : colours.value[s.colour % colours.value.length],
        yAxisIndex: s.second ? 1 : 0,
        data: s.points.filter(usable),
        showSymbol: s.marks ?? false,
        symbolSize: 7,
        lineStyle: { width: s.line === false ? 0 : s.marks ? 0.8 : 1.6, type: dashOf(s, i) as 'solid' },
        markLine:
          i === 0 && marks.length
            ? {
                silent: true,
                symbol: 'none',
                // As they are; the library would round them to two decimals.
                precision: 12,
                lineStyle: { color: p.heat, type: 'dashed' as const },
                label: { color: p.heat, position: 'insideStartTop' as const },
                data: marks,
              }
            : undefined,
      })),
      ...props.series.flatMap((s, i) => barsOf(s, i)),
    ],
  }
})

/** How far points may lie to either side, as upright bars. */
function barsOf(s: Series, i: number) {
  const bars = s.points.flatMap(([x, y], k) => {
    const spread = s.spread?.[k]
    return spread ? [[x, y - spread, y + spread]] : []
  })
  if (!bars.length) return []
  const stroke = colours.value[(s.colour ?? i) % colours.value.length]
  return [
    {
      type: 'custom' as const,
      yAxisIndex: s.second ? 1 : 0,
      silent: true,
      tooltip: { show: false },
      data: bars,
      encode: { x: 0, y: [1, 2] },
      renderItem: (_: unknown, api: { value: (k: number) => number; coord: (at: number[]) => number[] }) => {
        const [x, low] = api.coord([api.value(0), api.value(1)])
        const high = api.coord([api.value(0), api.value(2)])[1]
        const cap = 4
        const d = `M${x} ${low}V${high}M${x! - cap} ${low}H${x! + cap}M${x! - cap} ${high}H${x! + cap}`
        return { type: 'path' as const, shape: { pathData: d }, style: { stroke, fill: 'none', lineWidth: 1.2 } }
      },
    },
  ]
}

/** A click on a mark, or anywhere on a line: its nearest point. */
function clicked(event: { componentType?: string; seriesType?: string; seriesIndex?: number; dataIndex?: number }): void {
  if (event.seriesType === 'line' && event.seriesIndex !== undefined && event.dataIndex !== undefined)
    emit('pick', event.seriesIndex, event.dataIndex)
}

function svg(): string {
  const url = (chart.value as unknown as { getDataURL: (how: object) => string }).getDataURL({
    type: 'svg',
    backgroundColor: theme.palette().sheet,
  })
  const text = url.slice(url.indexOf(',') + 1)
  return url.includes(';base64') ? atob(text) : decodeURIComponent(text)
}

async function handOn(what: string): Promise<void> {
  if (what === 'csv' || what === 'xlsx') {
    const rows = props.series.flatMap((s) => s.points.map(([x, y]) => [s.name, x, y]))
    await saveTable(what, props.name, ['series', props.x, hasSecond.value ? `${props.y}; ${props.y2}` : props.y], rows)
  } else if (what === 'svg') saveFile(new Blob([svg()], { type: 'image/svg+xml' }), `${props.name}.svg`)
  else {
    const png = await pngOf(svg(), theme.palette().sheet)
    if (what === 'png') saveFile(png, `${props.name}.png`)
    else
      notices.say(
        (await copyPicture(png)) ? 'The plot is in the clipboard.' : 'The browser does not let pictures into the clipboard.',
      )
  }
}
</script>

<template>
  <div class="plot" data-test="plot">
    <VChart
      ref="chart"
      :option="option as Record<string, unknown>"
      autoresize
      :update-options="{ notMerge: true }"
      @click="clicked"
    />
    <div class="save no-print">
      <PadMenu
        label="hand on"
        data-test="plot-hand-on"
        :items="[
          { title: 'values (CSV)', value: 'csv' },
          { title: 'values (XLSX)', value: 'xlsx' },
          { title: 'picture (SVG)', value: 'svg' },
          { title: 'picture (PNG)', value: 'png' },
          { title: 'copy the picture', value: 'copy' },
        ]"
        @choose="handOn"
      />
    </div>
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
