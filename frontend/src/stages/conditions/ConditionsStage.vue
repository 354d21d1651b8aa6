<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Condition } from '../../api/client'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import ContactsForm from './ContactsForm.vue'
import TablesForm from './TablesForm.vue'
import KindForm from './KindForm.vue'
import { copiedCondition, copyCondition, endsOf, giveCondition, holds } from './give'

/** The conditions: pick one or many boundaries, give the condition once. */
const theCase = useCase()
const units = useUnits()
const outer = computed(() => (theCase.sketch?.boundaries ?? []).filter((b) => !b.interface))
const interfaces = computed(() => (theCase.sketch?.boundaries ?? []).filter((b) => b.interface))
const opened = ref<string[]>([])

interface Row {
  name: string
  flag: string
  kind: string
  fluid: boolean
  condition: number | null
  /** How many copies of a repeated part share it; 0 for one copy. */
  copies: number
  copy: boolean
}

/** Boundaries; the copies of a repeated part's are one row that opens to single ones. */
const rows = computed<Row[]>(() => {
  const found: Row[] = []
  for (const b of outer.value) {
    if (found.some((row) => row.name === b.general && !row.copy)) continue
    const copies = outer.value.filter((o) => o.general === b.general)
    const flags = new Set(copies.map((c) => c.flag))
    const shared = new Set(copies.map((c) => c.condition))
    found.push({ ...b, name: b.general, flag: flags.size > 1 ? 'different' : b.flag, condition: shared.size > 1 ? null : b.condition, copies: b.general === b.name ? 0 : copies.length, copy: false })
    if (opened.value.includes(b.general)) for (const c of copies) if (c.name !== c.general) found.push({ ...c, copies: 0, copy: true })
  }
  return found
})
const rowOf = (name: string) => rows.value.find((r) => r.name === name) ?? outer.value.find((b) => b.name === name)
const chosen = computed(() => theCase.picked.filter((name) => rowOf(name)))
const index = computed(() => {
  const found = new Set(chosen.value.map((name) => rowOf(name)?.condition ?? null))
  return found.size === 1 ? [...found][0]! : null
})
const mixed = computed(() => new Set(chosen.value.map((name) => rowOf(name)?.condition)).size > 1)
const condition = computed<Condition | null>(() => (index.value === null ? null : (theCase.document?.conditions[index.value] ?? null)))
const fluid = computed(() => chosen.value.every((name) => rowOf(name)?.fluid))
const problems = computed(() => theCase.problems.filter((p) => p.field.startsWith('conditions')))
const problemAt = (field: string) => (index.value === null ? undefined : theCase.problemOf(`conditions[${index.value}].${field}`))

const round = computed(() => theCase.document?.section.extent === 'axisymmetric')

/** The two ends of a module among the chosen boundaries, if they are. */
const ends = computed(() => (theCase.sketch ? endsOf(theCase.sketch, chosen.value) : null))
const module = computed(() => (condition.value?.type === 'periodic' ? condition.value : null))
/** All kinds of conditions that the chosen boundaries can have, with what is written when one is chosen. */
const kinds = computed(() => (units.catalogue?.boundaries ?? []).filter(({ form }) => (form.stands_on === 'any' ? true : form.stands_on === 'fluid' ? fluid.value : ends.value !== null || module.value !== null)))
const options = computed(() => kinds.value.flatMap(({ form, defaults }) => form.options.map((option) => ({ option, defaults }))))
const kindOf = (c: Condition | null) => (c === null ? '' : ((units.catalogue?.boundaries ?? []).flatMap(({ form }) => form.options).find((option) => holds(c, option.when ?? {}))?.value ?? ''))

function give(kind: string): void {
  const found = options.value.find(({ option }) => option.value === kind)
  if (!found) return
  const at = found.defaults.type === 'periodic' && ends.value ? { boundaries: ends.value[0], downstream: ends.value[1] } : { boundaries: ['x'] }
  const fresh = { ...at, ...found.defaults, ...found.option.gives } as Condition
  theCase.edit('conditions', (d) => giveCondition(d, chosen.value, fresh, index.value))
}

/** Change a value for the chosen boundaries only: others that share the condition keep theirs. */
function change(what: string, apply: (c: Record<string, unknown>) => void): void {
  const now = condition.value
  if (!now) return
  theCase.edit(`conditions.${what}`, (d) => {
    const copy = JSON.parse(JSON.stringify(now)) as Condition
    apply(copy as unknown as Record<string, unknown>)
    giveCondition(d, now.type === 'periodic' ? [...now.boundaries, ...now.downstream] : chosen.value, copy, index.value)
  })
}

const copied = ref(copiedCondition())

function copy(): void {
  if (!condition.value) return
  copyCondition(condition.value)
  copied.value = condition.value
}

function paste(): void {
  const kept = copiedCondition()
  if (!kept) return
  // What the chosen boundaries cannot have, an inlet on a solid, is left where it was.
  if ((kept.type === 'inlet' || kept.type === 'outlet') && !fluid.value) return
  if (kept.type === 'periodic') {
    if (ends.value) theCase.edit('conditions.paste', (d) => giveCondition(d, chosen.value, { ...kept, boundaries: ends.value![0], downstream: ends.value![1], present: '1' }, index.value))
    return
  }
  theCase.edit('conditions.paste', (d) => giveCondition(d, chosen.value, { ...kept, present: '1' }, index.value))
}

function open(name: string): void {
  opened.value = opened.value.includes(name) ? opened.value.filter((n) => n !== name) : [...opened.value, name]
}

function toggle(name: string, event: MouseEvent): void {
  if (event.shiftKey || event.ctrlKey) theCase.picked = theCase.picked.includes(name) ? theCase.picked.filter((n) => n !== name) : [...theCase.picked, name]
  else theCase.picked = [name]
}
const form = computed(() => (units.catalogue?.boundaries ?? []).find(({ form }) => form.type === condition.value?.type)?.form)
const value = (event: Event) => (event.target as HTMLInputElement).value
const text = (what: string) => String((condition.value as unknown as Record<string, unknown> | null)?.[what] ?? '')
</script>

<template>
  <h2>
    Conditions <span class="muted small hint-line">click, shift-click or shift-drag on the drawing</span>
    <span class="grow"></span>
    <button class="pad-button quiet small" :disabled="!condition" title="remember this condition, for other boundaries here or in another case" data-test="copy-condition" @click="copy">copy</button>
    <button class="pad-button quiet small" :disabled="!copied || !chosen.length" data-test="paste-condition" :title="copied ? `give the chosen boundaries the copied condition (${kindOf(copied).replaceAll('_', ' ')})` : 'no condition was copied'" @click="paste">paste</button>
  </h2>
  <div class="columns">
    <div class="scroll list" role="listbox" aria-label="boundaries" aria-multiselectable="true">
      <button v-for="b in rows" :key="b.name" role="option" :aria-selected="chosen.includes(b.name)" :class="{ on: chosen.includes(b.name), doubt: b.kind === 'open', copy: b.copy }" :data-boundary="b.name" @click="toggle(b.name, $event)">
        <span>{{ b.name }} <i v-if="b.copies" class="muted small" :title="opened.includes(b.name) ? 'close' : 'each of them'" @click.stop="open(b.name)">× {{ b.copies }} {{ opened.includes(b.name) ? '▾' : '▸' }}</i></span>
        <span class="muted small given" :title="b.flag">{{ b.flag }}</span>
      </button>
      <p class="muted small">Between parts, found by themselves: {{ interfaces.map((b) => b.name).join('; ') || 'none' }}</p>
    </div>
    <div class="scroll">
      <ul v-if="problems.length" class="problems" role="alert">
        <li v-for="p in problems" :key="p.field + p.problem" class="fault">{{ p.problem }}; {{ p.remedy }}</li>
      </ul>
      <template v-if="!chosen.length">
        <span class="muted">Choose boundaries; or inside the section:</span>
        <ContactsForm />
        <TablesForm />
      </template>
      <div v-else class="form">
        <label>On</label>
        <span v-if="module" class="names" :title="`from ${module.boundaries.join('; ')} to ${module.downstream.join('; ')}`">{{ module.boundaries.join('; ') }} → {{ module.downstream.join('; ') }}</span>
        <span v-else class="names" :title="chosen.join('; ')">{{ chosen.join('; ') }}</span>
        <label for="kind">Condition</label>
        <select id="kind" class="pad-select" :value="kindOf(condition)" @change="give(value($event))">
          <option value="" disabled>{{ mixed ? 'different ones' : 'none: adiabatic wall' }}</option>
          <option v-for="{ option } in options" :key="option.value" :value="option.value">{{ option.label }}</option>
        </select>
        <KindForm v-if="condition && form" :condition="condition" :form="form" :fluid="fluid" :round="round" :bad="problemAt" @change="change" />
        <template v-if="condition">
          <label for="condition-present" title="not zero: the condition holds; an input can switch it">Present</label>
          <input id="condition-present" class="pad-input" :class="{ bad: problemAt('present') }" :value="text('present')" @change="change('present', (c) => (c.present = value($event) || '1'))" />
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped>
.columns { display: grid; grid-template-columns: minmax(150px, 46%) 1fr; gap: 12px; min-height: 0; flex: 1; }
.list button { font: inherit; color: inherit; background: none; border: 0; border-top: 1px solid var(--hair); padding: 2px 4px; width: 100%; display: flex; justify-content: space-between; gap: 6px; text-align: left; cursor: pointer; white-space: nowrap; }
.given { min-width: 0; overflow: hidden; text-overflow: ellipsis; }
.list button:hover { background: var(--raised); }
.list button.on { background: var(--heat-wash); }
.list button.doubt { color: var(--doubt); }
.problems { padding-left: 16px; margin: 0 0 4px; }
.copy { padding-left: 18px !important; }
.names { max-height: 40px; overflow: auto; }
.hint-line { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; font-weight: 400; font-family: var(--font-text); }
.hint { grid-column: 1 / -1; margin: 0; }
</style>
