<script setup lang="ts">
import { computed } from 'vue'

import { plain, useUnits } from '../../quantity/units'
import { useSizing } from '../../stores/sizing'
import TakeValues from './TakeValues.vue'

/** What was found, how each goal is kept and what more room would bring; and what it is by hand, while nothing is solved. */
const sizing = useSizing()
const units = useUnits()
const found = computed(() => (sizing.running ? null : sizing.found))
const hand = computed(() => sizing.hand)
const difference = (value: number, kind: string) =>
  `${plain(units.shownDifference(value, kind), 2)} ${units.differenceLabel(kind)}`.trim()
const asked = (one: { lower: number | null; upper: number | null; kind: string }) => {
  if (one.lower !== null && one.lower === one.upper) return units.withUnit(one.lower, one.kind)
  return [
    one.lower !== null ? `≥ ${units.withUnit(one.lower, one.kind)}` : '',
    one.upper !== null ? `≤ ${units.withUnit(one.upper, one.kind)}` : '',
  ]
    .filter(Boolean)
    .join(', ')
}
/** What more room for a goal would bring, in a step that is easily thought of. */
const relief = (text: string) => text.split('; ')[1] ?? ''
const TITLES = { met: 'Found', unreachable: 'Cannot be met', stopped: 'Stopped', unsolved: 'Not solved' }
</script>

<template>
  <div class="answer scroll">
    <template v-if="found">
      <p :class="['outcome', found.outcome === 'met' ? 'good' : 'doubt']">
        <b>{{ TITLES[found.outcome] }}</b>
        <span data-test="sizing-answer">{{ found.text }}</span>
      </p>
      <TakeValues :chosen="found.chosen" :values="found.values" :test="'apply-size'" />
      <v-table v-if="found.margins.length" density="compact" class="dense" data-test="margins">
        <thead>
          <tr>
            <th>goal</th>
            <th class="words">asked</th>
            <th class="number">solved</th>
            <th class="number">grid ±</th>
            <th class="number">margin</th>
            <th class="words">more room would bring</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in found.margins" :key="m.name">
            <td>{{ m.name }}</td>
            <td class="words">{{ asked(m) }}</td>
            <td class="number">
              <b>{{ units.withUnit(m.value, m.kind) }}</b>
            </td>
            <td class="number">{{ m.plus_minus === null ? '' : difference(m.plus_minus, m.kind) }}</td>
            <td class="number" :class="m.kept_by < 0 ? 'doubt' : ''">
              {{ m.kept_by < 0 ? 'missed by' : '' }} {{ difference(Math.abs(m.kept_by), m.kind) }}
              <span v-if="m.plus_minus !== null && m.kept_by >= 0 && m.kept_by < m.plus_minus" class="muted">within ±</span>
            </td>
            <td class="words relief">{{ relief(m.text) || (m.saves > 0 ? '' : 'nothing: it does not hold the answer back') }}</td>
          </tr>
        </tbody>
      </v-table>
      <ul v-if="found.suggestions.length" data-test="sizing-suggestions">
        <li v-for="s in found.suggestions" :key="s">{{ s }}</li>
      </ul>
      <p v-if="!found.led" class="muted small">
        No hand calculation of this case gives all that is asked for: the search learned from field solves alone.
      </p>
    </template>
    <p v-else-if="sizing.running" class="muted">
      Trials appear under “trials”. What has been tried is kept when you stop: “Find it” goes on from there.
    </p>
    <template v-if="hand && !sizing.running">
      <p v-if="hand.without_hand.length" class="muted" data-test="without-hand">
        By hand nobody gives {{ hand.without_hand.join(', ') }}: the search learns from field solves alone.
      </p>
      <template v-else-if="hand.values">
        <p class="byhand" data-test="size-by-hand">
          <b>By hand{{ hand.trials ? `, corrected by ${hand.trials} field solve${hand.trials > 1 ? 's' : ''}` : '' }}:</b>
          {{ hand.met ? '' : 'not all goals can be met between these bounds; nearest is' }}
          <span v-for="(one, i) in hand.chosen.flatMap((c) => c.varied)" :key="i"
            >{{ i ? ', ' : '' }}{{ sizing.titleOf(one) }} = {{ hand.values[i] }}</span
          >
          <span class="muted">
            with
            <span v-for="(q, i) in hand.quantities" :key="q.name"
              >{{ i ? ', ' : '' }}{{ q.name }} {{ units.withUnit(hand.found[i] ?? null, q.kind) }}</span
            >
          </span>
        </p>
        <TakeValues v-if="!found" :chosen="hand.chosen" :values="hand.values" test="take-by-hand" />
      </template>
      <p v-else class="muted">By hand there is no answer anywhere between these bounds.</p>
    </template>
    <p v-if="!sizing.wish.chosen?.length" class="muted empty">
      Say below what may be chosen, what must be met, and what is to be best: the answer by hand comes at once, “Find it” makes it
      sure by field solves.
    </p>
  </div>
</template>

<style scoped>
.answer {
  flex: 1;
  min-height: 0;
  padding: 4px 2px;
}
.outcome b {
  margin-right: 8px;
}
.outcome span {
  color: var(--ink);
}
.words {
  text-align: left !important;
}
.relief {
  white-space: normal;
  max-width: 24em;
}
.empty {
  margin: 40px auto;
  max-width: 40em;
  text-align: center;
}
p {
  margin: 4px 0 6px;
}
ul {
  margin: 4px 0;
  padding-left: 16px;
}
</style>
