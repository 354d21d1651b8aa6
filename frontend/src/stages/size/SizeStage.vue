<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import { unitIn } from '../../quantity/entry'
import { idOf, isOf, type Key } from '../../quantity/keys'
import { useUnits } from '../../quantity/units'
import { stageOf, useCase } from '../../stores/case'
import { betweenBounds, nameOf, useSizing, type ChosenWish, type Goal } from '../../stores/sizing'
import ChooseRows from './ChooseRows.vue'

/** Size: what may be chosen, what must be met, what is to be best. By hand at once, then by a few field solves. */
const theCase = useCase()
const sizing = useSizing()
const units = useUnits()
onMounted(() => (sizing.open = true))
onBeforeUnmount(() => (sizing.open = false))

const [MOST_CHOSEN, MOST_GOALS] = [6, 12]
const chosen = computed<ChosenWish[]>(() => sizing.wish.chosen ?? [])
const goals = computed<Goal[]>(() => sizing.wish.goals ?? [])
const aim = computed(() => sizing.wish.aim ?? null)
const inputs = computed(() => Object.entries(theCase.document?.inputs ?? {}))
const free = (own = '') =>
  inputs.value
    .filter(([name]) => name === own || !chosen.value.some((one) => one.varied.some((v) => v.input === name)))
    .map(([name, item]) => ({ value: name, title: item.label || name }))
const between = (one: ChosenWish) => one.varied.length === 1 && !one.varied[0]!.values && Boolean(one.varied[0]!.input)
const itemOf = (one: ChosenWish) => theCase.document?.inputs[one.varied[0]?.input ?? '']
const rowsOf = (one: ChosenWish) => (one.varied[0]?.values ?? '').split(/[,;]/).filter((text) => text.trim()).length

function addInput(): void {
  const bounded = free().find((one) => theCase.document?.inputs[one.value]?.lower)
  const name = (bounded ?? free()[0])?.value
  if (name) sizing.edit(`add ${Date.now()}`, (w) => (w.chosen = [...(w.chosen ?? []), betweenBounds(name)]))
}
const rowsAt = ref<number | null>(null)
/** What stands at the end of the inputs: standard tubes, materials, or rows of one's own. */
const TABLE = 'from a table'
function choose(i: number, name: string): void {
  if (name === TABLE) rowsAt.value = i
  else sizing.edit(`choose ${Date.now()}`, (w) => (w.chosen![i] = betweenBounds(name)))
}
const setEnd = (i: number, end: 'lower' | 'upper', value: string) =>
  sizing.edit(`chosen.${i}.${end}`, (w) => (w.chosen![i]![end] = value))

// Rows of values are chosen in a dialog: for a new one, or for one that there is.
const begun = computed(() => {
  const one = rowsAt.value === null ? undefined : chosen.value[rowsAt.value]
  return one && !between(one) ? one : undefined
})
function takeRows(varied: ChosenWish['varied']): void {
  const at = rowsAt.value
  rowsAt.value = null
  sizing.edit(`rows ${Date.now()}`, (w) => {
    w.chosen ??= []
    if (at === null || at >= w.chosen.length) w.chosen.push({ varied, lower: '', upper: '' })
    else w.chosen[at] = { varied, lower: '', upper: '' }
  })
}

const quantities = computed(() => theCase.ledger.filter((row) => !['mass_balance', 'heat_balance'].includes(row.key.quantity)))
const offered = computed(() => quantities.value.map((row) => ({ value: idOf(row.key), title: row.name })))
const rowOf = (key: Key | null | undefined) => quantities.value.find((row) => isOf(row, key))
const keyOf = (id: string) => quantities.value.find((row) => idOf(row.key) === id)?.key
const SENSES = [
  { value: 'at_least', title: 'at least' },
  { value: 'at_most', title: 'at most' },
  { value: 'equal', title: 'is' },
  { value: 'between', title: 'between' },
]
function addGoal(): void {
  const asked = (key: Key) => goals.value.some((goal) => idOf(goal.key) === idOf(key))
  const wanted = (theCase.document?.wanted ?? []).find((w) => w.target && !asked(w.key as Key))
  const row = quantities.value.find((one) => !asked(one.key))
  const goal = wanted ?? (row && { key: row.key, target: '', sense: 'at_least' as const, upper: '' })
  if (goal) sizing.edit(`goal ${Date.now()}`, (w) => (w.goals = [...(w.goals ?? []), { ...goal }]))
}
function setGoal(i: number, change: Partial<Goal>): void {
  sizing.edit(`goals.${i}.${Object.keys(change).join()}`, (w) => Object.assign(w.goals![i]!, change))
}
function askFor(i: number, id: string): void {
  const key = keyOf(id)
  if (key) sizing.edit(`goal ${Date.now()}`, (w) => (w.goals![i] = { ...w.goals![i]!, key, target: '', upper: '' }))
}

// What is to be best.
const OWN = 'own'
const aimed = computed(() => {
  if (!aim.value) return ''
  return aim.value.key ? idOf(rowOf(aim.value.key as Key)?.key ?? (aim.value.key as Key)) : OWN
})
const ways = [
  { value: '', title: 'nothing' },
  { value: 'least', title: 'least' },
  { value: 'most', title: 'most' },
]
function setWay(way: string): void {
  sizing.edit(`aim ${Date.now()}`, (w) => {
    if (!way) w.aim = null
    else w.aim = { expression: chosen.value[0]?.varied[0]?.input ?? '', key: null, ...w.aim, way: way as 'least' | 'most' }
  })
}
function setAim(id: string): void {
  const key = id === OWN ? null : (keyOf(id) ?? null)
  sizing.edit(`aim ${Date.now()}`, (w) => {
    if (w.aim) Object.assign(w.aim, { key, expression: key ? '' : (chosen.value[0]?.varied[0]?.input ?? '') })
  })
}
const problemAt = (field: string) => sizing.problems.find((p) => p.field === field)
const told = computed(() => sizing.problems.filter((p) => !/\.(target|upper|lower|aim|expression)$|^sizing\.aim$/.test(p.field)))
const nothingAsked = computed(() => !chosen.value.length || (!goals.value.length && !aim.value))
</script>

<template>
  <h2>
    Size
    <span v-if="sizing.running" class="small muted stage" role="status">{{ sizing.run ? stageOf(sizing.run) : '' }}</span>
    <span class="grow"></span>
    <v-btn v-if="sizing.running" data-test="stop-sizing" @click="theCase.stop(sizing.run)">Stop</v-btn>
    <v-btn
      v-else
      color="primary"
      variant="flat"
      data-test="size"
      :disabled="theCase.problems.length > 0 || nothingAsked"
      @click="theCase.start('sizing')"
      >Find it</v-btn
    >
  </h2>
  <v-progress-linear
    v-if="sizing.running"
    :model-value="100 * Number(sizing.run?.progress.fraction ?? 0)"
    aria-label="progress of the run"
  />
  <div class="scroll wish">
    <span class="head"
      >choose
      <v-btn
        v-if="chosen.length && chosen.length < MOST_CHOSEN"
        v-tip="'another input, or from a table'"
        variant="text"
        size="small"
        aria-label="choose another input"
        data-test="choose-input"
        @click="addInput"
        >+</v-btn
      ></span
    >
    <section aria-label="what may be chosen">
      <div v-for="(one, i) in chosen" :key="i" class="chosen" :data-test="`chosen-${i}`">
        <template v-if="between(one)">
          <v-select
            :model-value="one.varied[0]!.input"
            :items="[...free(one.varied[0]!.input), { value: TABLE, title: 'from a table…' }]"
            :aria-label="`input ${i + 1}`"
            :data-test="`size-input-${i}`"
            @update:model-value="choose(i, $event)"
          />
          <QuantityField
            :value="one.lower"
            :unit="itemOf(one)?.unit"
            :placeholder="itemOf(one)?.lower || 'from'"
            :problem="problemAt(`sizing.chosen[${i}].lower`)"
            :aria-label="`lower bound of input ${i + 1}`"
            @enter="setEnd(i, 'lower', $event)"
          />
          <QuantityField
            :value="one.upper"
            :unit="itemOf(one)?.unit"
            :placeholder="itemOf(one)?.upper || 'to'"
            :problem="problemAt(`sizing.chosen[${i}].upper`)"
            :aria-label="`upper bound of input ${i + 1}`"
            @enter="setEnd(i, 'upper', $event)"
          />
        </template>
        <v-btn v-else variant="text" class="rows" :data-test="`rows-${i}`" @click="rowsAt = i"
          >{{ one.varied.map(nameOf).join(', ') }}: one of {{ rowsOf(one) }}</v-btn
        >
        <v-btn
          variant="text"
          size="small"
          :aria-label="`choose ${one.varied.map(nameOf).join(', ')} no more`"
          @click="sizing.edit(`remove ${Date.now()}`, (w) => w.chosen!.splice(i, 1))"
          >×</v-btn
        >
      </div>
      <div v-if="!chosen.length" class="row">
        <v-btn variant="text" size="small" data-test="choose-input" @click="addInput">an input</v-btn>
        <v-btn variant="text" size="small" data-test="choose-rows" @click="rowsAt = 0">from a table…</v-btn>
      </div>
    </section>
    <span class="head"
      >so that
      <v-btn
        v-if="goals.length && goals.length < MOST_GOALS"
        v-tip="'another goal'"
        variant="text"
        size="small"
        aria-label="another goal"
        data-test="add-goal"
        @click="addGoal"
        >+</v-btn
      ></span
    >
    <section aria-label="what must be met">
      <div v-for="(goal, i) in goals" :key="i" class="goal" :data-test="`goal-${i}`">
        <v-select
          :model-value="idOf(rowOf(goal.key as Key)?.key ?? (goal.key as Key))"
          :items="offered"
          :aria-label="`quantity of goal ${i + 1}`"
          :data-test="`goal-quantity-${i}`"
          @update:model-value="askFor(i, $event)"
        />
        <v-select
          :model-value="goal.sense"
          :items="SENSES"
          :aria-label="`sense of goal ${i + 1}`"
          :data-test="`goal-sense-${i}`"
          @update:model-value="setGoal(i, { sense: $event })"
        />
        <span class="row">
          <QuantityField
            :value="goal.target"
            :unit="unitIn(goal.target ?? '') || units.label(rowOf(goal.key as Key)?.kind ?? 'number')"
            :problem="problemAt(`sizing.goals[${i}].target`)"
            :aria-label="`value of goal ${i + 1}`"
            :data-test="`goal-target-${i}`"
            @enter="setGoal(i, { target: $event })"
          />
          <QuantityField
            v-if="goal.sense === 'between'"
            :value="goal.upper"
            :unit="unitIn(goal.upper ?? '') || units.label(rowOf(goal.key as Key)?.kind ?? 'number')"
            :problem="problemAt(`sizing.goals[${i}].upper`)"
            :aria-label="`upper value of goal ${i + 1}`"
            @enter="setGoal(i, { upper: $event })"
          />
        </span>
        <v-btn
          variant="text"
          size="small"
          :aria-label="`take out goal ${i + 1}`"
          @click="sizing.edit(`remove ${Date.now()}`, (w) => w.goals!.splice(i, 1))"
          >×</v-btn
        >
      </div>
      <v-btn v-if="!goals.length" variant="text" size="small" data-test="add-goal" @click="addGoal">a goal</v-btn>
    </section>
    <span class="head">best is</span>
    <section aria-label="what is to be best">
      <div class="aim">
        <v-select
          :model-value="aim?.way ?? ''"
          :items="ways"
          aria-label="least or most"
          data-test="aim-way"
          @update:model-value="setWay($event)"
        />
        <v-select
          v-if="aim"
          :model-value="aimed"
          :items="[{ value: OWN, title: 'own expression' }, ...offered]"
          aria-label="what is to be best"
          data-test="aim-quantity"
          @update:model-value="setAim($event)"
        />
        <span v-else class="muted small">inputs change as little as they can</span>
      </div>
      <QuantityField
        v-if="aim && !aim.key"
        :value="aim.expression"
        placeholder="2*length*width, or 30*mass_of_plate/(1 kg)"
        :problem="problemAt('sizing.aim')"
        aria-label="own expression"
        data-test="aim-expression"
        @enter="sizing.edit('aim.expression', (w) => (w.aim!.expression = $event))"
      />
      <p v-for="p in told" :key="p.field + p.problem" class="fault small" role="alert">{{ p.problem }}; {{ p.remedy }}</p>
      <ul v-if="theCase.runError" class="fault" role="alert">
        <li v-for="p in theCase.runError.problems" :key="p.field">{{ p.problem }}; {{ p.remedy }}</li>
      </ul>
      <p v-if="sizing.run?.state === 'failed'" class="fault" role="alert">
        {{ sizing.run.failure?.problem }}; {{ sizing.run.failure?.remedy }}
      </p>
    </section>
  </div>
  <ChooseRows v-if="rowsAt !== null" :begun="begun" @close="rowsAt = null" @take="takeRows" />
</template>

<style scoped>
.wish {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 8px;
  align-content: start;
  min-height: 0;
  flex: 1;
}
.head {
  color: var(--muted);
  padding-top: 3px;
}
.head .v-btn {
  min-width: 24px;
  padding: 0 4px;
}
.chosen,
.goal {
  display: grid;
  grid-template-columns: minmax(90px, 3fr) minmax(60px, 2fr) minmax(60px, 2fr) max-content;
  gap: 2px 4px;
  align-items: start;
  margin-bottom: 2px;
}
.goal {
  grid-template-columns: minmax(110px, 4fr) minmax(78px, 2fr) minmax(70px, 3fr) max-content;
}
.rows {
  grid-column: 1 / 4;
  justify-content: start;
  min-width: 0;
}
.aim {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  gap: 4px;
  margin-bottom: 2px;
}
.stage {
  font-weight: normal;
}
p {
  margin: 4px 0;
}
</style>
