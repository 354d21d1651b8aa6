<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take } from '../../api/client'
import Plot, { type Series } from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useLines } from '../../stores/lines'
import { useReading } from '../../stores/reading'
import { bulkAlong, curvesOf, isClosed, type Across, type Curve, type Scaled } from './curves'

/** What lies along the lines that are plotted: fields, frames and runs over each other, with what is said of each beneath. */
defineProps<{ tall: boolean }>()
const theCase = useCase()
const lines = useLines()
const reading = useReading()
const units = useUnits()
const across = useStorage<Across>('wattikos.plot.across', 'along')
/** Temperatures from the wall to the bulk and velocities over their mean; logarithms; bulk values of stations. */
const axes = ref<('scaled' | 'log' | 'logX' | 'bulk' | 'marks')[]>([])
const AXES = { scaled: 'no dimension', log: 'logarithmic', logX: 'log along', bulk: 'bulk', marks: 'marks' }
const marked = computed(() => axes.value.includes('marks'))
const scaled = computed<Scaled>(() => (axes.value.includes('scaled') ? 'temperature' : 'plain'))
const logarithmic = computed(() => axes.value.includes('log'))
const logarithmicX = computed(() => axes.value.includes('logX'))
/** Of rows of stations: each profile, or bulk values along the stream. */
const bulk = computed(() => axes.value.includes('bulk') && hasStations.value)

const timeOf = (frame: number | null) => {
  const time = reading.frames.find((f) => f.number === frame)?.time
  return time === null || time === undefined ? '' : units.withUnit(time, 'time', 4)
}
const shownLines = computed(() => lines.lines.filter((line) => lines.plotted.includes(line.name)))
const hasStations = computed(() => shownLines.value.some((line) => line.along.type === 'stations'))
const frames = computed(() => [reading.frameNumber, ...lines.keptFrames.filter((f) => f !== reading.frameNumber)])

const curvesOfField = (field: string, scaled: Scaled): Curve[] =>
  shownLines.value.flatMap((line) => {
    const several = frames.value.length > 1
    const make = (run: number, frame: number | null, of: string) => {
      const at = lines.at(line, run, frame)
      if (!at) return []
      return bulk.value && line.along.type === 'stations'
        ? bulkAlong(at, line.name, field, of)
        : curvesOf(at, line.name, field, across.value, scaled, of)
    }
    const own = frames.value.flatMap((frame) =>
      make(
        reading.runId,
        frame,
        several || lines.otherRuns.length ? timeOf(frame) || (lines.otherRuns.length ? 'this run' : '') : '',
      ),
    )
    return [...own, ...lines.otherRuns.flatMap((run) => make(run, null, `run ${run}`))]
  })
const curves = computed(() => curvesOfField(lines.field, scaled.value))
const second = computed(() =>
  lines.secondField && lines.secondField !== lines.field ? curvesOfField(lines.secondField, 'plain') : [],
)
const offered = computed(() => {
  const names = new Set<string>()
  for (const line of shownLines.value)
    for (const profile of lines.at(line, reading.runId, reading.frameNumber)?.profiles ?? [])
      for (const name of profile.fields.keys()) names.add(name)
  return [...names]
})
const kind = computed(() => curves.value[0]?.kind ?? 'number')
const closed = computed(() =>
  shownLines.value.some((line) => lines.at(line, reading.runId, reading.frameNumber)?.profiles.some(isClosed)),
)
const acrossKind = computed(() => (across.value === 'angle' || across.value === 'share' || bulk.value ? '' : 'length'))
const xName = computed(() => {
  if (bulk.value) return `where the station is, ${units.label('length')}`
  const names = { along: 'along the line', x: 'x', y: 'y', angle: 'angle from the front, °', share: 'share of the line' }
  return acrossKind.value ? `${names[across.value]}, ${units.label('length')}` : names[across.value]
})
const yName = computed(() => {
  if (scaled.value === 'plain' || bulk.value) return [lines.field, units.label(kind.value)].filter(Boolean).join(', ')
  return kind.value === 'temperature' ? '(T − Tw)/(Tb − Tw)' : `${lines.field} over its mean`
})
const secondKind = computed(() => second.value[0]?.kind ?? 'number')
const y2Name = computed(() => [lines.secondField, units.label(secondKind.value)].filter(Boolean).join(', '))
const series = computed<Series[]>(() => [
  ...curves.value.map((curve) => ({
    name: curve.name,
    marks: marked.value || bulk.value || curve.x.length < 3,
    points: curve.x.flatMap((x, k): [number, number][] => {
      const y = curve.y[k]!
      if (!Number.isFinite(y)) return []
      const place = acrossKind.value || bulk.value ? units.shown(x, 'length') : x
      return [[place, scaled.value === 'plain' || bulk.value ? units.shown(y, kind.value) : y]]
    }),
  })),
  ...second.value.map((curve) => ({
    name: `${curve.name}, ${lines.secondField}`,
    second: true,
    dashed: true,
    marks: marked.value || bulk.value,
    points: curve.x.flatMap((x, k): [number, number][] => {
      const y = curve.y[k]!
      const place = acrossKind.value || bulk.value ? units.shown(x, 'length') : x
      return Number.isFinite(y) ? [[place, units.shown(y, curve.kind)]] : []
    }),
  })),
])
/** Heat through a line, or the flow through it. */
const summed = computed(() => kind.value === 'heat_flux' || (kind.value === 'velocity' && curves.value.some((c) => c.massFlow)))
// Other runs of the case, laid over this one.
const runs = shallowRef<{ value: number; title: string }[]>([])
watch(
  () => reading.runId,
  async (id) => {
    const lines = id
      ? await take(api.GET('/api/cases/{case}/runs', { params: { path: { case: theCase.id } } })).catch(() => [])
      : []
    runs.value = lines
      .filter((run) => run.kind === 'solve' && run.state === 'done' && run.id !== reading.runId)
      .map((run) => ({ value: run.id, title: `run ${run.id}, ${run.queued.slice(0, 16).replace('T', ' ')}` }))
  },
  { immediate: true },
)
const MOST_RUNS = 5
const told = (value: number | null | undefined) => units.format(value, kind.value, 5)
const waiting = computed(() =>
  shownLines.value.some((line) => !lines.at(line, reading.runId, reading.frameNumber) && !lines.problemOf(line)),
)
</script>

<template>
  <div class="panel">
    <div class="row bar">
      <v-select
        v-tip="'what is plotted'"
        class="what"
        :model-value="lines.field"
        aria-label="plotted quantity"
        data-test="plotted-field"
        :items="offered.length ? offered : [lines.field]"
        @update:model-value="lines.plottedField = $event"
      />
      <v-select
        v-model="across"
        class="what"
        aria-label="plotted against"
        data-test="plotted-across"
        :disabled="bulk"
        :items="[
          { value: 'along', title: 'along the line' },
          { value: 'x', title: 'against x' },
          { value: 'y', title: 'against y' },
          { value: 'share', title: 'x/L' },
          ...(closed || across === 'angle' ? [{ value: 'angle', title: 'angle from the front' }] : []),
        ]"
      />
      <v-select
        v-model="axes"
        class="what"
        multiple
        placeholder="plain axes"
        aria-label="axes"
        data-test="axes"
        :items="[
          { value: 'scaled', title: 'without dimension' },
          { value: 'log', title: 'logarithmic upright' },
          { value: 'logX', title: 'logarithmic along' },
          { value: 'marks', title: 'points marked' },
          ...(hasStations ? [{ value: 'bulk', title: 'bulk, station by station' }] : []),
        ]"
      >
        <template #selection="{ index }">
          <span v-if="index === 0">{{ axes.length > 1 ? `${axes.length} choices` : AXES[axes[0]!] }}</span>
        </template>
      </v-select>
      <v-select
        v-model="lines.secondField"
        v-tip="'another quantity, on an axis of its own at the right'"
        class="what"
        aria-label="second quantity"
        data-test="second-field"
        :items="[
          { value: '', title: 'by itself' },
          ...offered.filter((name) => name !== lines.field).map((name) => ({ value: name, title: `and ${name}` })),
        ]"
      />
      <v-select
        v-if="['local h', 'local Nusselt number'].includes(lines.field)"
        v-model="lines.reference"
        v-tip="'what coefficients are counted from: usually the bulk along walls, and what enters around bodies'"
        class="what"
        aria-label="reference temperature"
        :items="[
          { value: '', title: 'on the usual temperature' },
          { value: 'bulk', title: 'on the bulk' },
          { value: 'entering', title: 'on what enters' },
        ]"
      />
      <template v-if="reading.frames.length > 1">
        <v-btn
          v-tip="'keep the curves of this instant in the plot'"
          variant="text"
          size="small"
          data-test="keep-frame"
          @click="lines.keepFrame"
          >keep this instant</v-btn
        >
        <v-btn v-if="lines.keptFrames.length" variant="text" size="small" @click="lines.keptFrames = []"
          >let go of {{ lines.keptFrames.length }}</v-btn
        >
      </template>
      <v-select
        v-if="runs.length"
        v-model="lines.otherRuns"
        v-tip="'earlier runs of this case, laid over this one'"
        class="what"
        multiple
        placeholder="with earlier runs"
        aria-label="earlier runs"
        data-test="other-runs"
        :items="runs"
      >
        <template #selection="{ index }">
          <span v-if="index === 0">with {{ lines.otherRuns.length }} more</span>
        </template>
      </v-select>
      <v-btn
        v-if="lines.otherRuns.length"
        variant="text"
        size="small"
        :to="`/compare?runs=${[reading.runId, ...lines.otherRuns.slice(0, MOST_RUNS)].join()}`"
        >side by side</v-btn
      >
      <span class="grow"></span>
      <v-btn variant="text" size="small" aria-label="close the plot" data-test="close-plot" @click="lines.plotted = []"
        >close</v-btn
      >
    </div>
    <div v-if="series.length" class="shown" :class="{ beside: !tall }">
      <Plot
        class="plot-of-lines"
        :series="series"
        :x="xName"
        :y="yName"
        :y2="y2Name"
        :logarithmic="logarithmic"
        :logarithmic-x="logarithmicX"
        :name="`${lines.field} along ${shownLines.map((l) => l.name).join(', ')}`"
      />
      <div class="told small" data-test="line-statistics">
        <v-table class="dense small">
          <thead>
            <tr>
              <th>{{ units.label(kind) }}</th>
              <th class="number">mean</th>
              <th v-tip="'weighted by the flow through the line'" class="number">by flow</th>
              <th class="number">lowest</th>
              <th class="number">highest</th>
              <th
                v-if="summed"
                v-tip="'over the area of the line (its length times the depth, or turned about the axis)'"
                class="number"
              >
                {{ kind === 'heat_flux' ? 'heat' : 'mass flow' }}
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="curve in curves" :key="curve.name">
              <td>{{ curve.name }}</td>
              <td class="number">{{ told(curve.statistics.mean) }}</td>
              <td class="number">{{ told(curve.statistics.flow_mean) }}</td>
              <td v-tip="`at ${units.withUnit(curve.statistics.lowest_at, 'length', 4)} along it`" class="number">
                {{ told(curve.statistics.lowest) }}
              </td>
              <td v-tip="`at ${units.withUnit(curve.statistics.highest_at, 'length', 4)} along it`" class="number">
                {{ told(curve.statistics.highest) }}
              </td>
              <td v-if="summed" class="number">
                {{
                  curve.kind === 'heat_flux'
                    ? units.withUnit(curve.statistics.integral, 'power', 4)
                    : units.withUnit(curve.massFlow, 'mass_flow', 4)
                }}
              </td>
            </tr>
          </tbody>
        </v-table>
      </div>
    </div>
    <p v-else class="muted nothing" role="status">
      <template v-if="waiting">reading …</template>
      <template v-else-if="shownLines.some((l) => lines.problemOf(l))">{{
        shownLines.map((l) => lines.problemOf(l)).join(' ')
      }}</template>
      <template v-else
        >There is no {{ lines.field }} along {{ shownLines.map((l) => l.name).join(', ') }}: choose another quantity.</template
      >
    </p>
  </div>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  min-width: 0;
}
.bar {
  flex: none;
  gap: 8px;
  flex-wrap: wrap;
  row-gap: 0;
}
.what {
  flex: 0 1 106px;
}
.bar > .v-checkbox {
  flex: none;
}
.shown {
  flex: 1;
  display: flex;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
}
.told {
  flex: none;
  max-height: 74px;
  overflow: auto;
}
.beside {
  flex-direction: row;
  gap: 10px;
}
.beside .told {
  flex: 0 0 34%;
  max-height: none;
}
.nothing {
  flex: 1;
  display: grid;
  place-items: center;
}
</style>
