<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Finding } from '../api/client'
import { plain } from '../quantity/units'
import { inTime, useCase } from '../stores/case'
import { put } from '../stores/case/paths'
import BalanceBars, { type Balance } from './BalanceBars.vue'

/** Evidence: why to believe the numbers, in one line that opens. */
defineProps<{ still?: boolean }>()
const theCase = useCase()
const open = ref(false)
const fresh = computed(() => theCase.solution !== null && theCase.staleBecause.length === 0)
/** Why the last solve failed, where nothing newer is known. */
const failure = computed(() => {
  const last = theCase.run
  return last?.state === 'failed' && last.id > (theCase.solution?.id ?? 0) ? last.failure : null
})
const findings = computed(() => {
  const found = fresh.value ? theCase.solution!.findings : (theCase.view?.findings ?? [])
  const why = failure.value
  return why ? [{ severity: 'stop' as const, place: '', text: why.problem, remedy: why.remedy }, ...found] : found
})
const SEVERITIES = ['stop', 'check', 'note'] as const
/** A finding by its words without numbers: an answer stays when they change a little. */
const nameOf = (f: Finding) => `${f.place} ${f.text.replace(/[-+]?[\d.,]+(?:e[-+]?\d+)?/gi, '#')}`.slice(0, 300)
const answerTo = (f: Finding) => theCase.document?.answers?.[nameOf(f)] ?? ''
const answering = ref(-1)
const text = ref('')

function begin(f: Finding, i: number): void {
  text.value = answerTo(f)
  answering.value = i
}

function answer(f: Finding): void {
  answering.value = -1
  theCase.edit(`answers.${nameOf(f)}`, (d) => {
    const others = Object.entries(d.answers ?? {}).filter(([name]) => name !== nameOf(f))
    const mine = text.value.trim() ? [[nameOf(f), text.value.trim()]] : []
    d.answers = Object.fromEntries([...others, ...mine]) as Record<string, string>
  })
}

/** The boundaries a finding is about: of a part all that are its own. */
const placeOf = (f: Finding) =>
  (theCase.sketch?.boundaries ?? [])
    .filter((b) => f.place && (b.name === f.place || b.general === f.place || b.name.startsWith(`${f.place}, `)))
    .map((b) => b.name)
    .join('\n')
function show(f: Finding): void {
  theCase.picked = placeOf(f).split('\n')
}

const FINER = 2
function carryOut(fix: NonNullable<Finding['fix']>): void {
  if (fix.refine?.length) {
    const at = fix.refine
    theCase.edit(`grid.local.fix ${Date.now()}`, (d) => d.grid.local.push({ at: [...at], box: [], fineness: FINER }))
  } else if (fix.path) {
    theCase.edit(fix.path, (d) => put(d, fix.path!, fix.value))
  }
}

const balances = computed(() => (theCase.solution?.summary.balances as Balance[] | undefined) ?? [])
const worst = computed(() => SEVERITIES.find((s) => findings.value.some((f) => f.severity === s)) ?? '')
const words = computed(() => {
  const said: string[] = []
  const s = theCase.solution?.summary as
    | { ended_by?: string; converged?: boolean; heat_balance?: number | null; mass_balance?: number | null; cells?: number }
    | undefined
  if (failure.value) {
    said.push('the last solve failed')
    if (fresh.value) said.push('the one before it stands')
  } else if (fresh.value && s) {
    const ends = inTime(theCase.solution!) ? ['ran to its end', 'stopped before its end'] : ['converged', 'not converged']
    said.push(s.ended_by ? 'ended by its rule' : ends[s.converged ? 0 : 1]!)
    if (s.heat_balance != null) said.push(`heat balance ${plain(s.heat_balance, 2)}`)
    if (s.mass_balance != null) said.push(`mass balance ${plain(s.mass_balance, 2)}`)
  } else if (!theCase.solution) said.push(theCase.busy ? 'by hand only' : 'by hand only; not solved yet')
  if (theCase.solution && !fresh.value) said.push('the solution is of the case as it was')
  if (theCase.busy) said.push('a run goes on')
  for (const severity of SEVERITIES) {
    const count = findings.value.filter((f) => f.severity === severity).length
    if (count) said.push(`${count} ${severity}${count > 1 ? 's' : ''}`)
  }
  return said.join(' · ')
})
</script>

<template>
  <div class="evidence" data-test="evidence">
    <BalanceBars v-if="open && !still && fresh && balances.length" :balances="balances" />
    <ul v-if="open || still">
      <li v-for="(f, i) in findings" :key="i" :data-finding="f.severity">
        <b :class="f.severity">{{ f.severity }}</b> {{ f.text }};
        <span class="muted">{{ f.remedy }}</span>
        <template v-if="!still">
          <v-btn v-if="placeOf(f)" v-tip="'on the drawing'" variant="text" size="small" @click="show(f)">show</v-btn>
          <v-btn v-if="f.fix" variant="text" size="small" data-test="fix" @click="carryOut(f.fix)">{{ f.fix.label }}</v-btn>
          <v-btn v-if="answering !== i" variant="text" size="small" data-test="answer" @click="begin(f, i)">{{
            answerTo(f) ? 'change the answer' : 'answer'
          }}</v-btn>
          <v-text-field
            v-else
            v-model="text"
            autofocus
            maxlength="1000"
            placeholder="why this is as it should be, or what was done"
            :aria-label="`answer to: ${f.text}`"
            data-test="answer-text"
            @keydown.enter="answer(f)"
            @keydown.esc="answering = -1"
          />
        </template>
        <em v-if="answerTo(f) && answering !== i" class="answer">{{ answerTo(f) }}</em>
      </li>
      <li v-if="!findings.length" class="muted">no findings</li>
    </ul>
    <p v-if="still" class="line" :class="worst"><b>Evidence</b> {{ words }}</p>
    <v-btn v-else variant="text" block class="line" :class="worst" :aria-expanded="open" @click="open = !open"
      ><b>Evidence</b>&nbsp;{{ words }}</v-btn
    >
  </div>
</template>

<style scoped>
.evidence {
  border-top: 1px solid var(--line);
  margin: 4px calc(-1 * var(--pad)) calc(-1 * var(--gap));
  position: relative;
}
.line {
  font-size: var(--size-small);
  justify-content: flex-start;
  padding: 2px var(--pad);
  margin: 0;
  font-weight: 400;
  height: auto !important;
  min-height: 24px;
}
.line :deep(.v-btn__content) {
  display: block;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.stop {
  color: var(--fault);
}
.check {
  color: var(--doubt);
}
li .v-btn {
  margin: 0 2px;
}
.answer {
  display: block;
  color: var(--good);
}
ul {
  margin: 0;
  padding: 4px var(--pad) 4px 22px;
  max-height: 130px;
  overflow: auto;
  border-bottom: 1px solid var(--hair);
  font-size: var(--size-small);
}
</style>
