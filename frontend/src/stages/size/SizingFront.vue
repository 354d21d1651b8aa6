<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import Plot, { type Series } from '../../desk/Plot.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { idOf, isOf, type Key } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useSizing } from '../../stores/sizing'
import TakeValues from './TakeValues.vue'

/** What two aims cost one another: the places where neither can be better without the other being worse. */
const theCase = useCase()
const sizing = useSizing()
const units = useUnits()
const router = useRouter()
const OWN = 'own'
const second = computed(() => sizing.wish.second ?? null)
const quantities = computed(() => theCase.ledger.filter((row) => !['mass_balance', 'heat_balance'].includes(row.key.quantity)))
const offered = computed(() => [
  { value: OWN, title: 'own expression' },
  ...quantities.value.map((row) => ({ value: idOf(row.key), title: row.name })),
])
const against = computed(() => {
  if (!second.value) return null
  const key = second.value.key as Key | null
  return key ? idOf(quantities.value.find((row) => isOf(row, key))?.key ?? key) : OWN
})
function weigh(id: string): void {
  const key = id === OWN ? null : (quantities.value.find((row) => idOf(row.key) === id)?.key ?? null)
  sizing.edit(`second ${Date.now()}`, (w) => (w.second = { way: w.second?.way ?? 'least', key, expression: '' }))
}
const front = computed(() => sizing.front)
const picked = ref(0)
const point = computed(() => front.value?.points[picked.value] ?? null)
const shown = (i: number, value: number) => {
  const aim = front.value?.aims[i]
  return aim?.kind ? units.shown(value, aim.kind) : value
}
const titleOf = (i: number) => {
  const aim = front.value?.aims[i]
  return aim ? [aim.label, aim.kind ? units.label(aim.kind) : ''].filter(Boolean).join(', ') : 'what is changed'
}
const series = computed<Series[]>(() => [
  {
    name: 'neither can be better',
    points: (front.value?.points ?? []).map((p) => [shown(1, p.second), shown(0, p.aim)]),
    marks: true,
  },
  ...(point.value
    ? [
        {
          name: 'chosen',
          points: [[shown(1, point.value.second), shown(0, point.value.aim)]] as [number, number][],
          marks: true,
          line: false,
        },
      ]
    : []),
])
const wayOf = (i: number) => (front.value?.aims[i]?.most ? 'most' : 'least')
function solveAll(): void {
  if (!front.value) return
  sizing.intoSeries(
    front.value.chosen,
    front.value.points.map((p) => p.values),
  )
  void router.push({ path: `/cases/${theCase.id}/vary`, query: router.currentRoute.value.query })
}
</script>

<template>
  <div class="front">
    <div class="row small">
      <span class="muted">weighed against</span>
      <v-select
        class="way"
        :model-value="second?.way ?? 'least'"
        :items="['least', 'most']"
        aria-label="least or most of the second aim"
        @update:model-value="sizing.edit('second.way', (w) => (w.second = { key: null, expression: '', ...w.second, way: $event }))"
      />
      <v-select
        class="what"
        :model-value="against"
        :items="offered"
        placeholder="choose what"
        aria-label="second aim"
        data-test="second-aim"
        @update:model-value="weigh($event)"
      />
      <QuantityField
        v-if="against === OWN"
        class="what"
        :value="second?.expression"
        placeholder="an expression in inputs and quantities"
        aria-label="own expression of the second aim"
        @enter="sizing.edit('second.expression', (w) => (w.second!.expression = $event))"
      />
      <v-btn
        size="small"
        data-test="reckon-front"
        :disabled="!second || !sizing.wish.aim || sizing.pending"
        @click="sizing.looks.front()"
        >Reckon</v-btn
      >
    </div>
    <p v-if="!sizing.wish.aim" class="muted empty">Say below what is to be best; here it is weighed against something else.</p>
    <p v-else-if="!front" class="muted empty">
      {{
        second
          ? '“Reckon” finds by hand, corrected by the trials, where neither aim can be better without the other being worse.'
          : 'Choose what the aim is weighed against: pressure drop against length, mass against temperature.'
      }}
    </p>
    <p v-else-if="!front.points.length" class="muted empty">Nowhere between these bounds are all goals met.</p>
    <template v-else>
      <Plot
        :series="series"
        :x="`${titleOf(1)} (${wayOf(1)})`"
        :y="`${titleOf(0)} (${wayOf(0)})`"
        name="front"
        @pick="(_, p) => (picked = p)"
      />
      <div class="row foot small">
        <v-btn
          v-for="(p, i) in front.points"
          :key="i"
          variant="text"
          size="small"
          :aria-pressed="i === picked"
          :class="{ on: i === picked }"
          :aria-label="`point ${i + 1}: ${p.values.join(', ')}`"
          @click="picked = i"
          >{{ i + 1 }}</v-btn
        >
        <span v-if="point" class="grow" data-test="front-point">
          <span v-for="(one, i) in front.chosen.flatMap((c) => c.varied)" :key="i"
            >{{ i ? ', ' : '' }}{{ sizing.titleOf(one) }} {{ point.values[i] }}</span
          >
        </span>
        <TakeValues v-if="point" :chosen="front.chosen" :values="point.values" test="take-front" />
        <v-btn v-tip="'as a series under Vary, row by row'" size="small" data-test="solve-front" @click="solveAll"
          >Solve all of them</v-btn
        >
      </div>
    </template>
  </div>
</template>

<style scoped>
.front {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.front :deep(.plot) {
  flex: 1;
  display: flex;
  min-height: 0;
}
.way {
  flex: none;
  width: 90px;
}
.what {
  flex: 0 1 260px;
}
.foot {
  flex: none;
}
.empty {
  margin: auto;
  max-width: 40em;
  text-align: center;
}
</style>
