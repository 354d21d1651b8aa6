<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import Plot, { type Series } from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { isOver, useCase } from '../../stores/case'
import PhysicsForm from './PhysicsForm.vue'

/** Solve: start, watch residuals and quantities until they stop moving, stop. */
const theCase = useCase()
const units = useUnits()
const shown = ref('residuals')
const run = computed(() => theCase.run)
const running = computed(() => run.value !== null && !isOver(run.value))
const wishes = computed(() => theCase.document?.solve)
const watches = computed(() => Object.keys((theCase.history.at(-1)?.watches as Record<string, number> | undefined) ?? {}))
/** Kinds of what is watched, told while a run goes on. */
const kinds = computed(() => (run.value?.progress.kinds as Record<string, string> | undefined) ?? {})
const kindOf = (name: string) => theCase.ledger.find((row) => row.name === name)?.kind ?? kinds.value[name] ?? 'number'

const series = computed<Series[]>(() => {
  if (shown.value === 'residuals') {
    return ['momentum', 'mass', 'energy'].map((name) => ({ name, points: theCase.history.map((row, i) => [i + 1, Number(row[name])] as [number, number]) }))
  }
  const points = theCase.history.map((row, i) => [when(row, i), units.shown((row.watches as Record<string, number>)[shown.value] ?? NaN, kindOf(shown.value))] as [number, number])
  return [{ name: shown.value, points: points.filter((p) => Number.isFinite(p[1])), marks: points.length < 40 }]
})
/** Where a row stands on the axis: its time, or its step. */
const timed = computed(() => theCase.history.length > 0 && typeof theCase.history[0]!.time === 'number')
const when = (row: Record<string, unknown>, i: number) => (timed.value ? units.shown(Number(row.time), 'time') : i + 1)
const axis = computed(() => (timed.value && shown.value !== 'residuals' ? `time, ${units.label('time')}` : 'step'))
// What matters in a run in time is how its quantities move.
watch(timed, (now) => {
  if (now && shown.value === 'residuals' && watches.value[0]) shown.value = watches.value[0]
}, { immediate: true })
const percent = computed(() => Math.round(100 * Number(run.value?.progress.fraction ?? 0)))
const summary = computed(() => run.value?.summary as { cells?: number; solver_seconds?: number; seconds?: number; steps?: number; method?: string } | undefined)
const waiting = computed(() => (run.value?.state === 'queued' ? 'waiting for the worker' : String(run.value?.progress.stage ?? '')))
</script>

<template>
  <h2>
    Solve
    <span class="grow"></span>
    <button v-if="running" class="pad-button" data-test="stop" @click="theCase.stop(run)">Stop</button>
    <button v-if="!running && theCase.canGoOn" class="pad-button" data-test="go-on" :disabled="theCase.problems.length > 0" title="carry the last run on to the end the case has now" @click="theCase.start('solve', true)">Go on</button>
    <button v-if="!running" class="pad-button main" data-test="solve" :disabled="theCase.problems.length > 0" :title="theCase.problems.length ? 'correct the problems first' : 'Ctrl Enter'" @click="theCase.start('solve')">Solve</button>
  </h2>
  <div class="columns">
    <div class="scroll left">
      <PhysicsForm />
      <div class="form">
        <label for="method">Method</label>
        <select id="method" class="pad-select" :value="wishes?.method" @change="theCase.edit('solve.method', (d) => (d.solve.method = ($event.target as HTMLSelectElement).value as 'automatic'))">
          <option value="automatic">automatic</option>
          <option value="coupled">coupled</option>
          <option value="segregated">segregated</option>
        </select>
        <label for="flow" title="where the flow of the last run still holds, heat alone is solved">Flow</label>
        <select id="flow" class="pad-select" :value="wishes?.flow" @change="theCase.setText('solve.flow', ($event.target as HTMLSelectElement).value)">
          <option value="automatic">kept where it holds</option>
          <option value="kept">kept from the last run</option>
          <option value="solved">solved anew</option>
        </select>
        <label for="tolerance">Residual limit</label>
        <input id="tolerance" class="pad-input" :value="wishes?.tolerance.toExponential()" @change="theCase.edit('solve.tolerance', (d) => { const v = Number(($event.target as HTMLInputElement).value); if (v >= 1e-12 && v <= 1e-2) d.solve.tolerance = v })" />
        <label for="check">Grid ±</label>
        <label class="row"><input id="check" type="checkbox" :checked="wishes?.grid_check" @change="theCase.edit('solve.grid_check', (d) => (d.solve.grid_check = ($event.target as HTMLInputElement).checked))" /> solve on three grids</label>
      </div>
    </div>
    <div class="right">
      <div class="said">
        <p v-if="running" role="status"><progress :value="percent" max="100"></progress><br /><span class="small">{{ waiting }}</span></p>
        <p v-else-if="run?.state === 'failed'" class="fault" role="alert">{{ run.failure?.problem }}; {{ run.failure?.remedy }}</p>
        <p v-else-if="run?.state === 'stopped'" class="doubt">Stopped{{ typeof run.summary.time === 'number' ? ` at ${units.withUnit(run.summary.time, 'time', 4)}` : '' }}. {{ theCase.canGoOn ? 'Go on carries it to its end.' : 'Solve again to go on.' }}</p>
        <p v-else-if="run?.state === 'done' && summary" class="small muted">{{ summary.cells?.toLocaleString('en') }} cells, {{ summary.steps }} steps on the last grid, {{ summary.solver_seconds?.toFixed(1) }} s in the solver, {{ summary.method }} method</p>
        <p v-else class="muted small">Not solved yet. The hand calculation in the Ledger is there already.</p>
        <ul v-if="theCase.runError" class="fault" role="alert"><li v-for="p in theCase.runError.problems" :key="p.field">{{ p.problem }}; {{ p.remedy }}</li></ul>
        <p v-if="theCase.problems.length" class="fault small">{{ theCase.problems[0]!.field }}: {{ theCase.problems[0]!.problem }}; {{ theCase.problems[0]!.remedy }}</p>
      </div>
      <label v-if="theCase.history.length" class="row follow" for="followed">Watch <select id="followed" v-model="shown" class="pad-select"><option v-for="name in ['residuals', ...watches]" :key="name" :value="name">{{ name }}</option></select></label>
      <Plot v-if="theCase.history.length" :series="series" :x="axis" :y="shown === 'residuals' ? 'scaled residual' : units.label(kindOf(shown))" :logarithmic="shown === 'residuals'" :name="shown" />
      <p v-else class="muted">Residuals and watched quantities appear here while it solves.</p>
    </div>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: 232px minmax(0, 1fr); gap: 10px; min-height: 0; flex: 1; }
.said p, .said ul { margin: 0 0 4px; }
.follow { gap: 8px; color: var(--muted); }
.follow select { flex: 1; min-width: 0; }
.left > .form { margin-top: 4px; padding-top: 4px; border-top: 1px solid var(--hair); }
.left .form { grid-template-columns: max-content minmax(0, 1fr); gap: 4px 6px; }
.right { display: flex; flex-direction: column; min-height: 0; min-width: 0; }
progress { width: 100%; accent-color: var(--heat); height: 8px; }
</style>
