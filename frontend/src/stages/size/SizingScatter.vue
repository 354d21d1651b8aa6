<script setup lang="ts">
import { computed } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useSizing } from '../../stores/sizing'
import TakeValues from './TakeValues.vue'

/** Tolerances: how often the goals are met when inputs scatter, and the size at which they are met often enough. */
const theCase = useCase()
const sizing = useSizing()
const units = useUnits()
const spreads = computed(() => sizing.wish.spreads ?? [])
const inputs = computed(() =>
  Object.entries(theCase.document?.inputs ?? {}).map(([name, item]) => ({ value: name, title: item.label || name })),
)
const free = (own = '') => inputs.value.filter((one) => one.value === own || !spreads.value.some((s) => s.input === one.value))
function add(): void {
  const first = free()[0]
  if (first)
    sizing.edit(`spread ${Date.now()}`, (w) => (w.spreads = [...(w.spreads ?? []), { input: first.value, plus_minus: '5 %' }]))
}
const found = computed(() => sizing.scatter)
const percent = (share: number) => `${(100 * share).toFixed(share > 0.995 && share < 1 ? 1 : 0)} %`
const wanted = computed(() => Math.round(100 * (sizing.wish.share ?? 0.95)))
const problemAt = (i: number) => sizing.problems.find((p) => p.field.startsWith(`sizing.spreads[${i}]`))
const others = computed(() => sizing.problems.filter((p) => !/^sizing\.spreads\[/.test(p.field)))
</script>

<template>
  <div class="tolerances scroll">
    <div class="row wrap">
      <span v-for="(one, i) in spreads" :key="i" class="spread" :data-test="`spread-${i}`">
        <v-select
          :model-value="one.input"
          :items="free(one.input)"
          :aria-label="`input that scatters, ${i + 1}`"
          @update:model-value="sizing.edit(`spread ${i}`, (w) => (w.spreads![i]!.input = $event))"
        />
        <span class="muted">±</span>
        <QuantityField
          :value="one.plus_minus"
          :problem="problemAt(i)"
          placeholder="5 %"
          :aria-label="`spread of ${one.input}`"
          @enter="sizing.edit(`spread.${i}.value`, (w) => (w.spreads![i]!.plus_minus = $event))"
        />
        <v-btn
          variant="text"
          size="small"
          :aria-label="`${one.input} does not scatter`"
          @click="sizing.edit(`remove ${Date.now()}`, (w) => w.spreads!.splice(i, 1))"
          >×</v-btn
        >
      </span>
      <v-btn variant="text" size="small" data-test="add-spread" @click="add">{{
        spreads.length ? 'another that scatters' : 'an input that scatters'
      }}</v-btn>
    </div>
    <div class="row">
      <span class="muted">± is two standard deviations;</span>
      <v-label for="share">goals to be met in</v-label>
      <v-text-field
        id="share"
        class="share"
        type="number"
        min="50"
        max="99"
        :model-value="wanted"
        @change="sizing.edit('share', (w) => (w.share = Math.min(99, Math.max(50, Number($event.target.value) || 95)) / 100))"
      />
      <span class="muted">% of cases</span>
      <v-btn size="small" data-test="reckon-scatter" :disabled="!spreads.length || sizing.pending" @click="sizing.looks.scatter()"
        >Reckon</v-btn
      >
    </div>
    <p v-for="p in others" :key="p.problem" class="fault small" role="alert">{{ p.problem }}; {{ p.remedy }}</p>
    <p v-if="!found" class="muted empty">
      Give the inputs that are not known exactly or drift in use (fouling, flow, conductivity) with their ±: a thousand cases by
      hand, corrected by the field solves, say how often the goals are met, and which size meets them often enough.
    </p>
    <template v-else>
      <p data-test="scatter-share">
        <b class="large">{{ percent(found.share) }}</b> of cases meet {{ found.goals.length > 1 ? 'all goals' : 'the goal' }} with
        {{ found.centre.join(', ') }}
      </p>
      <v-table density="compact" class="dense">
        <thead>
          <tr>
            <th>goal</th>
            <th class="number">met in</th>
            <th class="number">5 % lie below</th>
            <th class="number">middle</th>
            <th class="number">5 % lie above</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(goal, i) in found.goals" :key="goal.name">
            <td>{{ goal.name }}</td>
            <td class="number">
              <b>{{ percent(found.shares[i]!) }}</b>
            </td>
            <td v-for="(x, k) in found.quantiles[i]" :key="k" class="number">{{ units.withUnit(x as number, goal.kind) }}</td>
          </tr>
        </tbody>
      </v-table>
      <template v-if="found.values">
        <p data-test="scatter-size">
          Met in {{ percent(found.share_there) }} of cases with
          <b v-for="(one, i) in found.chosen.flatMap((c) => c.varied)" :key="i"
            >{{ i ? ', ' : '' }}{{ sizing.titleOf(one) }} = {{ found.values[i] }}</b
          >
          <span v-if="found.aim && found.aim.value !== null && found.aim.kind" class="muted">
            ({{ found.aim.label }} {{ units.withUnit(found.aim.value, found.aim.kind) }})</span
          >
        </p>
        <TakeValues :chosen="found.chosen" :values="found.values" test="take-scatter" />
      </template>
      <p v-else class="doubt">No size between these bounds meets the goals in {{ wanted }} % of cases.</p>
    </template>
  </div>
</template>

<style scoped>
.tolerances {
  flex: 1;
  min-height: 0;
  padding: 2px;
}
.wrap {
  flex-wrap: wrap;
  gap: 2px 14px;
}
.spread {
  display: grid;
  grid-template-columns: 150px max-content 90px max-content;
  gap: 4px;
  align-items: center;
}
.share {
  flex: none;
  width: 64px;
}
.large {
  font-size: 20px;
}
.empty {
  margin: 30px auto;
  max-width: 42em;
  text-align: center;
}
p {
  margin: 6px 0;
}
</style>
