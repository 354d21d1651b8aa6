<script setup lang="ts">
import { computed } from 'vue'

import { plain, useUnits } from '../quantity/units'
import { STAGES, type Stage } from '../router'
import { inTime, isOver, useCase } from '../stores/case'
import { useReading } from '../stores/reading'

/** The stages, each saying in a few words where it stands. */
defineProps<{ stage: Stage }>()
const emit = defineEmits<{ go: [stage: Stage] }>()
const theCase = useCase()
const units = useUnits()
const reading = useReading()

const drawProblems = computed(() => theCase.problems.filter((p) => /^(inputs|section|materials|case)/.test(p.field)).length)
const conditionProblems = computed(() => theCase.problems.filter((p) => p.field.startsWith('conditions')).length)

const words = computed<Record<Stage, [text: string, mood: string]>>(() => {
  const view = theCase.view
  if (!view) return Object.fromEntries(STAGES.map((stage) => [stage, ['…', '']])) as Record<Stage, [string, string]>
  const open = (view.sketch?.boundaries ?? []).filter((b) => b.kind === 'open').length
  const parts = view.sketch?.parts.length ?? theCase.sketch?.parts.length ?? 0
  return {
    draw: drawProblems.value ? [plural(drawProblems.value, 'problem'), 'fault'] : [plural(parts, 'part'), ''],
    conditions: conditionProblems.value
      ? [plural(conditionProblems.value, 'problem'), 'fault']
      : open
        ? [`${open} without condition`, 'doubt']
        : ['all set', ''],
    grid: [gridWords(), ''],
    solve: solveWords(),
    read: [theCase.solution ? (reading.field?.name ?? 'temperature') : '–', ''],
    vary: ['by hand', ''],
    size: sizeWords(),
    report: [reportWords.value, ''],
  }
})

function gridWords(): string {
  const wishes = theCase.document?.grid
  if (wishes?.file) return wishes.file
  const known = theCase.view?.grid?.cells ?? (reading.gridIsCurrent() ? reading.grid?.mesh.cells : undefined)
  if (known) return `${known.toLocaleString('en')} cells`
  return wishes?.cells ? `about ${wishes.cells.toLocaleString('en')} cells` : `fineness ${wishes?.fineness ?? 1}`
}

function plural(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`
}

function solveWords(): [string, string] {
  const run = theCase.run
  if (run && !isOver(run)) return [`${Math.round(100 * Number(run.progress.fraction ?? 0))} %, running`, 'heat']
  if (run?.state === 'failed') return ['failed', 'fault']
  const solution = theCase.solution
  if (!solution) return ['not solved', '']
  if (theCase.staleBecause.length) return ['changed since', 'heat']
  const summary = solution.summary as { converged?: boolean; heat_balance?: number; ended_by?: string }
  if (inTime(solution))
    return [
      `${solution.state === 'stopped' ? 'stopped at' : 'ran to'} ${units.withUnit(Number(solution.summary.time), 'time', 3)}`,
      summary.converged || summary.ended_by ? 'good' : 'doubt',
    ]
  if (summary.ended_by) return ['ended by its rule', 'good']
  if (!summary.converged) return ['not converged', 'fault']
  // A balance that closes to the last digit needs no number.
  return [['converged', ...(summary.heat_balance ? [plain(summary.heat_balance, 1)] : [])].join(', '), 'good']
}

const reportWords = computed(() => {
  const chosen = theCase.document?.report?.sections.length
  return chosen ? `${chosen} sections` : 'all sections'
})

function sizeWords(): [string, string] {
  const run = theCase.sizing
  if (run && !isOver(run)) return [`trial ${(run.trials?.length ?? 0) + 1}`, 'heat']
  const sizing = run?.summary.sizing as { outcome: string; values: string[] } | undefined
  if (run?.state === 'failed') return ['failed', 'fault']
  if (!sizing) return ['–', '']
  return sizing.outcome === 'met'
    ? [sizing.values.join(', '), 'good']
    : [sizing.outcome === 'stopped' ? 'stopped' : 'cannot be met', 'doubt']
}
</script>

<template>
  <nav class="strip" aria-label="Stages">
    <v-btn
      v-for="(s, i) in STAGES"
      :key="s"
      variant="text"
      class="stage"
      :class="{ on: s === stage }"
      :aria-current="s === stage ? 'step' : undefined"
      :data-stage="s"
      @click="emit('go', s)"
    >
      <span class="title"
        ><kbd>{{ i + 1 }}</kbd> {{ s.charAt(0).toUpperCase() + s.slice(1) }}</span
      >
      <span class="words" :class="words[s][1]">{{ words[s][0] }}</span>
    </v-btn>
  </nav>
</template>

<style scoped>
.strip {
  display: grid;
  grid-template-columns: repeat(8, 1fr);
  background: var(--sheet);
  border: 1px solid var(--line);
}
.stage {
  height: auto !important;
  border-right: 1px solid var(--hair);
  border-bottom: 3px solid transparent;
  padding: 4px 10px 3px;
  min-width: 0;
  justify-content: flex-start;
}
.stage :deep(.v-btn__content) {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  min-width: 0;
  width: 100%;
  white-space: nowrap;
  line-height: 1.35;
}
.stage.on {
  border-bottom-color: var(--heat);
  background: var(--raised);
}
.title {
  font-weight: 500;
}
.stage.on .title {
  font-weight: 600;
}
.words {
  max-width: 100%;
  font-weight: 400;
  font-size: var(--size-small);
  color: var(--muted);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
@media (max-width: 959px) {
  .strip {
    grid-template-columns: repeat(4, 1fr);
  }
}
.words.fault {
  color: var(--fault);
}
.words.doubt {
  color: var(--doubt);
}
.words.good {
  color: var(--good);
}
.words.heat {
  color: var(--heat);
}
</style>
