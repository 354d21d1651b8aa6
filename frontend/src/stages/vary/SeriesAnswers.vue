<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import { idOf } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useSeries } from '../../stores/series'

/** How much a quantity answers to each input around the case as it stands: by hand, by central differences. */
const theCase = useCase()
const series = useSeries()
const units = useUnits()
type Answer = Schemas['SensitivityOut']
const answers = shallowRef<Answer[]>([])
const problem = shallowRef('')
const quantity = computed(() => series.quantities[series.placeOf(series.read[0] ?? '')])
let asked = 0
watch(
  [quantity, () => theCase.view],
  async () => {
    const document = theCase.document
    const mine = ++asked
    if (!document || !quantity.value) return
    try {
      const found = await take(api.POST('/api/series/sensitivities', { body: { document, key: quantity.value.key } }))
      if (mine !== asked) return
      answers.value = found
      problem.value = found.length ? '' : 'Nothing that is calculated by hand answers to an input here.'
    } catch (error) {
      if (mine === asked) problem.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true },
)
/** By the solved points of the series that is shown. */
const slopes = shallowRef<Schemas['SlopeOut'][]>([])
watch(
  () => [series.chosen, series.stored?.points.filter((p) => p.state === 'done').length] as const,
  async ([id]) => {
    const params = { path: { series: id } }
    slopes.value = id ? await take(api.GET('/api/series/{series}/slopes', { params })).catch(() => []) : []
  },
  { immediate: true },
)
interface Row {
  input: string
  step: Answer['step']
  hand: number | null
  solved: number | null
  elasticity: number | null
}
const rows = computed<Row[]>(() => {
  const mine = new Map(slopes.value.filter((s) => idOf(s.key) === idOf(quantity.value?.key)).map((s) => [s.input, s] as const))
  const told = answers.value.map((a) => {
    const solved = mine.get(a.input)
    mine.delete(a.input)
    return { ...a, hand: a.per_step, solved: solved ? (solved.slope * a.per_step) / a.slope : null }
  })
  const others = [...mine.values()].map((s): Row => {
    const kelvin = theCase.document?.inputs[s.input]?.kind === 'temperature'
    return {
      input: s.input,
      step: kelvin ? 'kelvin' : 'percent',
      hand: null,
      solved: s.slope * (kelvin ? 1 : 0.01 * s.middle),
      elasticity: null,
    }
  })
  return [...told, ...others]
})
const most = computed(() => Math.max(...rows.value.map((a) => Math.abs(a.hand ?? a.solved ?? 0)), 1e-30))
const STEPS = { percent: '1 % more', kelvin: '1 K more', one: 'one more' }
const labelOf = (name: string) => theCase.document?.inputs[name]?.label || name
const change = (step: number | null) => {
  if (step === null) return ''
  const kind = quantity.value!.kind
  const value = units.shownDifference(step, kind)
  return `${value > 0 ? '+' : '−'}${Math.abs(Number(value.toPrecision(3)))} ${units.differenceLabel(kind)}`.trim()
}
</script>

<template>
  <div class="answers">
    <p class="small muted">{{ quantity?.name }} around the case as it stands, by hand: what a little more of each input brings.</p>
    <p v-if="problem && !rows.length" class="muted">{{ problem }}</p>
    <v-table v-else class="dense" data-test="answers">
      <thead>
        <tr>
          <th>Input</th>
          <th>step</th>
          <th class="number">by hand</th>
          <th v-if="slopes.length" v-tip="'the slope of a plane through the solved points'" class="number">solved points</th>
          <th class="bars"></th>
          <th v-tip="'by how many percent it changes for one percent more of the input'" class="number">% per %</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="a in rows" :key="a.input">
          <td>{{ labelOf(a.input) }}</td>
          <td class="muted">{{ STEPS[a.step] }}</td>
          <td class="number">{{ change(a.hand) }}</td>
          <td v-if="slopes.length" class="number">{{ change(a.solved) }}</td>
          <td class="bars">
            <span
              class="bar"
              :class="{ less: (a.hand ?? a.solved ?? 0) < 0 }"
              :style="{
                width: `${(50 * Math.abs(a.hand ?? a.solved ?? 0)) / most}%`,
                left: (a.hand ?? a.solved ?? 0) < 0 ? `${50 - (50 * Math.abs(a.hand ?? a.solved ?? 0)) / most}%` : '50%',
              }"
            ></span>
          </td>
          <td class="number">{{ a.elasticity == null ? '' : a.elasticity.toFixed(3) }}</td>
        </tr>
      </tbody>
    </v-table>
  </div>
</template>

<style scoped>
.answers {
  flex: 1;
  min-height: 0;
  overflow: auto;
}
p {
  margin: 2px 0 4px;
}
.bars {
  position: relative;
  min-width: 160px;
  width: 40%;
  background: linear-gradient(var(--line), var(--line)) 50% 0 / 1px 100% no-repeat;
}
.bar {
  position: absolute;
  top: 25%;
  bottom: 25%;
  background: var(--ink);
}
.bar.less {
  background: var(--heat);
}
</style>
