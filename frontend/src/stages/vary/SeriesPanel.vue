<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useRouter } from 'vue-router'

import { idOf } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { MOST_COMPARED, useSeries, type Show } from '../../stores/series'
import SeriesCurves from './SeriesCurves.vue'
import SeriesTable from './SeriesTable.vue'

/** A series in the place of the drawing: as curves, a map, parallel axes, a table, profiles; and what can be done with its points. */
const SeriesMap = defineAsyncComponent(() => import('./SeriesMap.vue'))
const SeriesParallel = defineAsyncComponent(() => import('./SeriesParallel.vue'))
const SeriesAnswers = defineAsyncComponent(() => import('./SeriesAnswers.vue'))
const SeriesCourses = defineAsyncComponent(() => import('./SeriesCourses.vue'))
const SeriesFilm = defineAsyncComponent(() => import('./SeriesFilm.vue'))
const SeriesProfiles = defineAsyncComponent(() => import('./SeriesProfiles.vue'))
const theCase = useCase()
const series = useSeries()
const units = useUnits()
const router = useRouter()

const SHOWS: Record<Show, string> = {
  curves: 'curves',
  map: 'map',
  parallel: 'parallel axes',
  table: 'table',
  answers: 'sensitivities',
  profiles: 'profiles',
  courses: 'in time',
  film: 'film',
}
const shows = computed(() =>
  (Object.keys(SHOWS) as Show[]).filter((one) => {
    if (one === 'map') return (series.shown?.varied.filter((v) => v.kind).length ?? 0) >= 2
    if (one === 'profiles') return series.shown?.points.some((p) => p.state === 'done')
    if (one === 'film') return (series.shown?.points.filter((p) => p.state === 'done').length ?? 0) > 1
    if (one === 'courses') return series.shown?.id && theCase.document?.physics.regime === 'time'
    return one !== 'parallel' || (series.shown?.points.length ?? 0) > 1
  }),
)
const show = computed(() => (shows.value.includes(series.show) ? series.show : 'curves'))
const items = computed(() => series.quantities.map((q) => ({ value: idOf(q.key), title: q.name })))
const point = computed(() => series.pickedPoint)
const told = computed(() => {
  const p = point.value
  if (!p) return ''
  const given = (series.shown?.varied ?? []).map((one, i) => `${one.label} ${p.values[i]}`)
  const found = series.read.map((id) => {
    const q = series.placeOf(id)
    const quantity = series.quantities[q]!
    const solved = p.solved?.[q]
    const hand = p.hand[q]
    const spread = p.plus_minus?.[q]
    const parts = []
    if (solved != null) parts.push(`${units.withUnit(solved, quantity.kind)} solved`)
    if (spread != null) parts.push(`± ${plainDifference(spread, quantity.kind)}`)
    if (hand != null) parts.push(`${units.withUnit(hand, quantity.kind)} by hand`)
    return `${quantity.name} ${parts.join(', ')}`
  })
  return [...given, ...found].join(' · ')
})
const plainDifference = (value: number, kind: string) =>
  `${Number(units.shownDifference(value, kind).toPrecision(2))} ${units.differenceLabel(kind)}`.trim()
const runsTicked = computed(() =>
  series.ticked.flatMap((number) => series.shown?.points.find((p) => p.number === number)?.run ?? []),
)
const compare = (runs: number[]) => router.push({ path: '/compare', query: { runs: runs.join(',') } })
/** The picked point beside the solution of the case, where there is one. */
const beside = computed(() => {
  const run = point.value?.state === 'done' ? point.value.run : null
  const own = theCase.solution?.id
  return run && own && own !== run ? [own, run] : []
})
</script>

<template>
  <section class="panel" aria-label="series" data-test="series-panel">
    <div class="row bar">
      <v-tabs v-model="series.show" density="compact" height="24" hide-slider aria-label="how the series is shown">
        <v-tab v-for="one in shows" :key="one" :value="one" :class="{ on: show === one }" :data-show="one">{{ SHOWS[one] }}</v-tab>
      </v-tabs>
      <span class="grow"></span>
      <v-select
        v-if="['curves', 'film'].includes(show) && (series.shown?.varied.length ?? 0) > 1"
        v-model="series.along"
        class="what"
        aria-label="along"
        data-test="series-along"
        :items="series.shown!.varied.map((one, i) => ({ value: i, title: `along ${one.label}` }))"
      />
      <v-select
        v-if="items.length && !['parallel', 'profiles', 'courses', 'film'].includes(show)"
        class="what"
        :model-value="series.read"
        multiple
        :items="items"
        aria-label="quantities"
        data-test="series-quantities"
        @update:model-value="series.picks = $event"
      >
        <template #selection="{ item, index }">
          <span v-if="index < 2" class="chosen">{{ item.title }}{{ index + 1 < Math.min(series.read.length, 2) ? ', ' : '' }}</span>
          <span v-else-if="index === 2" class="muted">&nbsp;+{{ series.read.length - 2 }}</span>
        </template>
      </v-select>
    </div>
    <p v-if="!series.shown?.points.length" class="muted empty">
      {{
        series.problems.length
          ? 'What is varied cannot be read yet: see below.'
          : 'Choose what is varied, below: its points appear here by hand as you type.'
      }}
    </p>
    <p v-else-if="!series.quantities.length" class="muted empty">
      {{ series.pending ? 'reckoning…' : 'This case has nothing by hand: solve the points.' }}
    </p>
    <SeriesTable v-else-if="show === 'table'" />
    <SeriesMap v-else-if="show === 'map'" />
    <SeriesParallel v-else-if="show === 'parallel'" />
    <SeriesAnswers v-else-if="show === 'answers'" />
    <SeriesProfiles v-else-if="show === 'profiles'" />
    <SeriesCourses v-else-if="show === 'courses'" />
    <SeriesFilm v-else-if="show === 'film'" />
    <SeriesCurves v-else />
    <div class="row foot small">
      <template v-if="point">
        <span class="told" data-test="picked-point"
          ><b>point {{ point.number + 1 }}</b> {{ told }}</span
        >
        <span v-if="point.problem" class="fault">{{ point.problem }}</span>
        <span class="grow"></span>
        <v-btn v-if="beside.length" variant="text" size="small" @click="compare(beside)">beside the solution</v-btn>
        <v-btn variant="text" size="small" data-test="take-point" @click="series.takeInto(point)">take into Given</v-btn>
      </template>
      <span v-else class="muted">Click a point for its numbers, to take it into Given, or to see its field.</span>
      <v-btn
        v-if="runsTicked.length > 1"
        variant="text"
        size="small"
        data-test="compare-points"
        :disabled="runsTicked.length > MOST_COMPARED"
        @click="compare(runsTicked)"
        >pictures of {{ runsTicked.length }} side by side</v-btn
      >
    </div>
  </section>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  min-width: 0;
  padding: 2px 4px 0;
}
.bar {
  flex: none;
}
.bar .v-tabs {
  flex: none;
}
.what {
  flex: 0 1 300px;
  min-width: 120px;
}
.chosen {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.empty {
  margin: auto;
  max-width: 40em;
  text-align: center;
}
.foot {
  flex: none;
  min-height: 26px;
  overflow: hidden;
}
.told {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
