<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'

import { api, take, type Schemas } from '../../api/client'
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
const most = computed(() => Math.max(...answers.value.map((a) => Math.abs(a.per_step)), 1e-30))
const STEPS = { percent: '1 % more', kelvin: '1 K more', one: 'one more' }
const labelOf = (name: string) => theCase.document?.inputs[name]?.label || name
const change = (a: Answer) => {
  const kind = quantity.value!.kind
  const value = units.shownDifference(a.per_step, kind)
  return `${value > 0 ? '+' : '−'}${Math.abs(Number(value.toPrecision(3)))} ${units.differenceLabel(kind)}`.trim()
}
</script>

<template>
  <div class="answers">
    <p class="small muted">{{ quantity?.name }} around the case as it stands, by hand: what a little more of each input brings.</p>
    <p v-if="problem" class="muted">{{ problem }}</p>
    <v-table v-else class="dense" data-test="answers">
      <thead>
        <tr>
          <th>Input</th>
          <th>step</th>
          <th class="number">brings</th>
          <th class="bars"></th>
          <th v-tip="'by how many percent it changes for one percent more of the input'" class="number">% per %</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="a in answers" :key="a.input">
          <td>{{ labelOf(a.input) }}</td>
          <td class="muted">{{ STEPS[a.step] }}</td>
          <td class="number">{{ change(a) }}</td>
          <td class="bars">
            <span
              class="bar"
              :class="{ less: a.per_step < 0 }"
              :style="{
                width: `${(50 * Math.abs(a.per_step)) / most}%`,
                left: a.per_step < 0 ? `${50 - (50 * Math.abs(a.per_step)) / most}%` : '50%',
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
