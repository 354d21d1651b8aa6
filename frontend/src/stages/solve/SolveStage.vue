<script setup lang="ts">
import { computed, ref } from 'vue'

import QuantityField from '../../quantity/QuantityField.vue'
import { useUnits } from '../../quantity/units'
import { isOver, stageOf, useCase } from '../../stores/case'
import FollowForm from './FollowForm.vue'
import PhysicsForm from './PhysicsForm.vue'
import WatchPlot from './WatchPlot.vue'

/** Solve: start, watch residuals and quantities until they stop moving, stop. */
const theCase = useCase()
const units = useUnits()
const run = computed(() => theCase.run)
const running = computed(() => run.value !== null && !isOver(run.value))
const wishes = computed(() => theCase.document?.solve)
const percent = computed(() => Math.round(100 * Number(run.value?.progress.fraction ?? 0)))
const summary = computed(
  () =>
    run.value?.summary as
      | {
          ended_by?: string
          good_enough?: boolean
          cells?: number
          solver_seconds?: number
          seconds?: number
          steps?: number
          method?: string
        }
      | undefined,
)
const steady = computed(() => theCase.document?.physics.regime === 'steady')
const wrong = ref('')
function setEnough(name: 'within' | 'most_cells', value: number, low: number, high: number): void {
  const said = name === 'within' ? `between ${100 * low} and ${100 * high} %` : `between ${low} and ${high.toLocaleString('en')}`
  wrong.value =
    value >= low && value <= high ? '' : `${name === 'within' ? 'Wanted within' : 'Cells at most'}: give a number ${said}`
  if (!wrong.value) theCase.edit(`solve.good_enough.${name}`, (d) => Object.assign(d.solve.good_enough!, { [name]: value }))
}
const waiting = computed(() => (run.value ? stageOf(run.value) : ''))
</script>

<template>
  <h2>
    Solve
    <span class="grow"></span>
    <v-btn v-if="running" data-test="stop" @click="theCase.stop(run)">Stop</v-btn>
    <v-btn
      v-if="!running && theCase.canGoOn"
      v-tip="'carry the last run on to the end the case has now'"
      data-test="go-on"
      :disabled="theCase.problems.length > 0"
      @click="theCase.start('solve', true)"
      >Go on</v-btn
    >
    <v-btn
      v-if="!running"
      v-tip="theCase.problems.length ? 'correct the problems first' : 'Ctrl Enter'"
      color="primary"
      variant="flat"
      data-test="solve"
      :disabled="theCase.problems.length > 0"
      @click="theCase.start('solve')"
      >Solve</v-btn
    >
  </h2>
  <div class="columns">
    <div class="scroll left">
      <PhysicsForm />
      <div class="form">
        <v-label id="method-label" for="method">Method</v-label>
        <v-select
          id="method"
          :model-value="wishes?.method"
          :items="[
            { value: 'automatic', title: 'automatic' },
            { value: 'coupled', title: 'coupled' },
            { value: 'segregated', title: 'segregated' },
          ]"
          @update:model-value="theCase.edit('solve.method', (d) => (d.solve.method = $event as 'automatic'))"
        />
        <v-label id="flow-label" v-tip="'where the flow of the last run still holds, heat alone is solved'" for="flow"
          >Flow</v-label
        >
        <v-select
          id="flow"
          :model-value="wishes?.flow"
          :items="[
            { value: 'automatic', title: 'kept where it holds' },
            { value: 'kept', title: 'kept from the last run' },
            { value: 'solved', title: 'solved anew' },
          ]"
          @update:model-value="theCase.setText('solve.flow', $event)"
        />
        <v-label id="tolerance-label" for="tolerance">Residual limit</v-label>
        <QuantityField
          id="tolerance"
          :value="wishes?.tolerance.toExponential()"
          @enter="
            theCase.edit('solve.tolerance', (d) => {
              const v = Number($event)
              if (v >= 1e-12 && v <= 1e-2) d.solve.tolerance = v
            })
          "
        />
        <v-label id="check-label" for="check">Grid ±</v-label>
        <v-checkbox
          id="check"
          :model-value="wishes?.grid_check"
          label="solve on three grids"
          :disabled="steady && !!wishes?.good_enough"
          @update:model-value="theCase.edit('solve.grid_check', (d) => (d.solve.grid_check = Boolean($event)))"
        />
        <template v-if="steady">
          <v-label
            id="enough-label"
            v-tip="'the solve chooses its own grids, finer where what is wanted depends on it, until its Grid ± is small enough'"
            for="enough"
            >Good enough</v-label
          >
          <v-checkbox
            id="enough"
            :model-value="!!wishes?.good_enough"
            label="find the grid"
            @update:model-value="
              theCase.edit('solve.good_enough', (d) => (d.solve.good_enough = $event ? { within: 0.01, most_cells: 100000 } : null))
            "
          />
          <template v-if="wishes?.good_enough">
            <v-label id="within-label" for="within">Wanted within</v-label>
            <QuantityField
              id="within"
              :value="`${Number((100 * wishes.good_enough.within).toPrecision(6))}`"
              unit="%"
              @enter="setEnough('within', 0.01 * Number.parseFloat($event), 1e-5, 0.5)"
            />
            <v-label id="most-label" for="most">Cells at most</v-label>
            <QuantityField
              id="most"
              :value="`${wishes.good_enough.most_cells}`"
              @enter="setEnough('most_cells', Math.round(Number($event.replaceAll(',', ''))), 1000, 400000)"
            />
          </template>
        </template>
      </div>
      <FollowForm />
    </div>
    <div class="right">
      <div class="said">
        <p v-if="running" role="status">
          <v-progress-linear :model-value="percent" aria-label="progress of the solve" /><span class="small">{{ waiting }}</span>
        </p>
        <p v-else-if="run?.state === 'failed'" class="fault" role="alert">{{ run.failure?.problem }}; {{ run.failure?.remedy }}</p>
        <p v-else-if="run?.state === 'stopped'" class="doubt">
          Stopped{{ typeof run.summary.time === 'number' ? ` at ${units.withUnit(run.summary.time, 'time', 4)}` : '' }}.
          {{ theCase.canGoOn ? 'Go on carries it to its end.' : 'Solve again to go on.' }}
        </p>
        <p v-else-if="run?.state === 'done' && summary" class="small muted">
          <template v-if="summary.good_enough">All that is wanted is within what was asked (Grid ±). </template>
          <template v-if="summary.ended_by">Ended by its rule: {{ summary.ended_by }}. </template>
          {{ summary.cells?.toLocaleString('en') }} cells, {{ summary.steps }} steps on the last grid,
          {{ summary.solver_seconds?.toFixed(1) }} s in the solver, {{ summary.method }} method
        </p>
        <p v-else class="muted small">Not solved yet. The hand calculation in the Ledger is there already.</p>
        <p v-if="wrong" class="fault small" role="alert">{{ wrong }}</p>
        <ul v-if="theCase.runError" class="fault" role="alert">
          <li v-for="p in theCase.runError.problems" :key="p.field">{{ p.problem }}; {{ p.remedy }}</li>
        </ul>
        <p v-if="theCase.problems.length" class="fault small">
          {{ theCase.problems[0]!.field }}: {{ theCase.problems[0]!.problem }}; {{ theCase.problems[0]!.remedy }}
        </p>
      </div>
      <WatchPlot v-if="theCase.history.length" />
      <p v-else class="muted">Residuals and watched quantities appear here while it solves.</p>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 232px minmax(0, 1fr);
  gap: 10px;
  min-height: 0;
  flex: 1;
}
.said p,
.said ul {
  margin: 0 0 4px;
}
.left > .form {
  margin-top: 4px;
  padding-top: 4px;
  border-top: 1px solid var(--hair);
}
.left .form {
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 6px;
}
.right {
  display: flex;
  flex-direction: column;
  min-height: 0;
  min-width: 0;
}
</style>
