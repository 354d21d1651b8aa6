<script setup lang="ts">
import { computed, ref } from 'vue'

import { useNotices } from '../../pad/notices'
import QuantityField from '../../quantity/QuantityField.vue'
import type { Condition } from '../../api/client'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import ContactsForm from './ContactsForm.vue'
import TablesForm from './TablesForm.vue'
import KindForm from './KindForm.vue'
import { copiedCondition, copyCondition, dropBoundaries, endsOf, giveCondition, holds, insteadOf } from './give'

/** The conditions: pick one or many boundaries, give the condition once. */
const theCase = useCase()
const units = useUnits()
const notices = useNotices()
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
    found.push({
      ...b,
      name: b.general,
      flag: flags.size > 1 ? 'different' : b.flag,
      condition: shared.size > 1 ? null : b.condition,
      copies: b.general === b.name ? 0 : copies.length,
      copy: false,
    })
    if (opened.value.includes(b.general))
      for (const c of copies) if (c.name !== c.general) found.push({ ...c, copies: 0, copy: true })
  }
  return found
})
/** Conditions, or shares of them, on boundaries that the section does not have. */
const astray = computed(() => {
  if (!theCase.sketch || theCase.sketch.bare) return []
  const there = new Set(theCase.sketch.boundaries.flatMap((b) => [b.name, b.general]))
  return (theCase.document?.conditions ?? []).flatMap((c, index) => {
    const all = c.type === 'periodic' ? [...c.boundaries, ...c.downstream] : c.boundaries
    const names = all.filter((name) => !there.has(name) && theCase.problems.some((p) => p.problem.includes(`'${name}'`)))
    return names.length || !all.length ? [{ index, names, kind: kindOf(c).replaceAll('_', ' ') || c.type }] : []
  })
})
const rowOf = (name: string) => rows.value.find((r) => r.name === name) ?? outer.value.find((b) => b.name === name)
const chosen = computed(() => theCase.picked.filter((name) => rowOf(name)))
const index = computed(() => {
  const found = new Set(chosen.value.map((name) => rowOf(name)?.condition ?? null))
  return found.size === 1 ? [...found][0]! : null
})
const mixed = computed(() => new Set(chosen.value.map((name) => rowOf(name)?.condition)).size > 1)
const condition = computed<Condition | null>(() =>
  index.value === null ? null : (theCase.document?.conditions[index.value] ?? null),
)
const fluid = computed(() => chosen.value.every((name) => rowOf(name)?.fluid))
const problems = computed(() => theCase.problems.filter((p) => p.field.startsWith('conditions')))
const problemAt = (field: string) => (index.value === null ? undefined : theCase.problemOf(`conditions[${index.value}].${field}`))

const round = computed(() => theCase.document?.section.extent === 'axisymmetric')

/** The two ends of a module among the chosen boundaries, if they are. */
const ends = computed(() => (theCase.sketch ? endsOf(theCase.sketch, chosen.value) : null))
const module = computed(() => (condition.value?.type === 'periodic' ? condition.value : null))
/** All kinds of conditions that the chosen boundaries can have, with what is written when one is chosen. */
const kinds = computed(() =>
  (units.catalogue?.boundaries ?? []).filter(({ form }) =>
    form.stands_on === 'any' ? true : form.stands_on === 'fluid' ? fluid.value : ends.value !== null || module.value !== null,
  ),
)
const options = computed(() => kinds.value.flatMap(({ form, defaults }) => form.options.map((option) => ({ option, defaults }))))
const kindOf = (c: Condition | null) =>
  c === null
    ? ''
    : ((units.catalogue?.boundaries ?? []).flatMap(({ form }) => form.options).find((option) => holds(c, option.when ?? {}))
        ?.value ?? '')

function give(kind: string): void {
  const found = options.value.find(({ option }) => option.value === kind)
  if (!found) return
  const at =
    found.defaults.type === 'periodic' && ends.value
      ? { boundaries: ends.value[0], downstream: ends.value[1] }
      : { boundaries: ['x'] }
  const fresh = { ...at, ...found.defaults, ...found.option.gives } as Condition
  const instead = insteadOf(condition.value, fresh, found.option)
  theCase.edit('conditions', (d) => giveCondition(d, chosen.value, instead, index.value))
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
  if (['inlet', 'outlet', 'opening'].includes(kept.type) && !fluid.value) return
  if (kept.type === 'periodic') {
    if (ends.value)
      theCase.edit('conditions.paste', (d) =>
        giveCondition(
          d,
          chosen.value,
          { ...kept, boundaries: ends.value![0], downstream: ends.value![1], present: '1' },
          index.value,
        ),
      )
    return
  }
  theCase.edit('conditions.paste', (d) => giveCondition(d, chosen.value, { ...kept, present: '1' }, index.value))
}

function open(name: string): void {
  opened.value = opened.value.includes(name) ? opened.value.filter((n) => n !== name) : [...opened.value, name]
}

/** Arrows move between boundaries; right and left open and close copies. */
function arrow(event: KeyboardEvent): void {
  const at = event.target instanceof HTMLElement ? event.target.dataset.boundary : undefined
  const row = rows.value.find((r) => r.name === at)
  if (!row?.copies || !['ArrowRight', 'ArrowLeft'].includes(event.key)) return
  if (opened.value.includes(row.name) !== (event.key === 'ArrowRight')) open(row.name)
  event.preventDefault()
}

function toggle(name: string, event: MouseEvent | KeyboardEvent): void {
  if (event.shiftKey || event.ctrlKey)
    theCase.picked = theCase.picked.includes(name) ? theCase.picked.filter((n) => n !== name) : [...theCase.picked, name]
  else theCase.picked = [name]
}
const form = computed(() => (units.catalogue?.boundaries ?? []).find(({ form }) => form.type === condition.value?.type)?.form)

/** The one end of a stream that is chosen; a fan can stand there. */
const end = computed(() => {
  const opens = condition.value && ['inlet', 'outlet', 'opening'].includes(condition.value.type)
  const filled = theCase.document?.section.parts.filter((part) => part.internal).map((part) => `${part.name}, `) ?? []
  const one = chosen.value.length === 1 ? chosen.value[0]! : ''
  return opens && one && !filled.some((name) => one.startsWith(name)) ? one : null
})

async function putFan(boundary: string): Promise<void> {
  try {
    const also = await theCase.reach('put_fan', boundary)
    const fan = theCase.document?.section.parts.at(-1)?.name
    theCase.picked = fan ? [`${fan}, ${boundary.slice(boundary.lastIndexOf(', ') + 2).split(' ')[0]}`] : []
    notices.say(`a fan stands on ${boundary}; ${also.slice(1).join('; ') || 'its rise is set in Draw'}`, theCase.undo)
  } catch (error) {
    notices.say(error instanceof Error ? error.message : String(error))
  }
}
const text = (what: string) => String((condition.value as unknown as Record<string, unknown> | null)?.[what] ?? '')
</script>

<template>
  <h2>
    Conditions <span class="muted small hint-line">click, shift-click or shift-drag on the drawing</span>
    <span class="grow"></span>
    <v-btn
      v-if="end"
      v-tip="'a thin part outside of this end; its rise or curve is set in Draw'"
      variant="text"
      size="small"
      data-test="put-fan"
      @click="putFan(end)"
      >put a fan</v-btn
    >
    <v-btn
      v-tip="'remember this condition, for other boundaries here or in another case'"
      variant="text"
      size="small"
      :disabled="!condition"
      data-test="copy-condition"
      @click="copy"
      >copy</v-btn
    >
    <v-btn
      v-tip="
        copied
          ? `give the chosen boundaries the copied condition (${kindOf(copied).replaceAll('_', ' ')})`
          : 'no condition was copied'
      "
      variant="text"
      size="small"
      :disabled="!copied || !chosen.length"
      data-test="paste-condition"
      @click="paste"
      >paste</v-btn
    >
  </h2>
  <div class="columns">
    <div class="scroll">
      <v-list role="listbox" aria-label="boundaries" aria-multiselectable="true" @keydown="arrow">
        <v-list-item
          v-for="b in rows"
          :key="b.name"
          v-tip="b.copies ? `${b.copies} copies; → lists each, ← closes them` : b.flag"
          role="option"
          :aria-selected="chosen.includes(b.name)"
          :active="chosen.includes(b.name)"
          :class="{ doubt: b.kind === 'open', copy: b.copy }"
          :data-boundary="b.name"
          @click="toggle(b.name, $event)"
        >
          <span class="line">
            <span>{{ b.name }}</span>
            <span v-if="b.copies" class="copies muted small" aria-hidden="true" @click.stop="open(b.name)"
              >× {{ b.copies }} {{ opened.includes(b.name) ? '▾' : '▸' }}</span
            >
            <span class="muted small given">{{ b.flag }}</span>
          </span>
        </v-list-item>
      </v-list>
      <div v-for="lost in astray" :key="lost.index" class="row small doubt" :data-astray="lost.index">
        <span v-tip="'no boundary of this name is in the section now'">{{ lost.kind }} on {{ lost.names.join('; ') }}</span>
        <span class="grow"></span>
        <v-btn
          variant="text"
          size="small"
          :aria-label="`take out the condition on ${lost.names.join('; ')}`"
          @click="theCase.edit('conditions.astray', (d) => dropBoundaries(d, lost.index, lost.names))"
          >take out</v-btn
        >
      </div>
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
        <span class="label">On</span>
        <span v-if="module" v-tip="`from ${module.boundaries.join('; ')} to ${module.downstream.join('; ')}`" class="names"
          >{{ module.boundaries.join('; ') }} → {{ module.downstream.join('; ') }}</span
        >
        <span v-else v-tip="chosen.join('; ')" class="names">{{ chosen.join('; ') }}</span>
        <v-label id="kind-label" for="kind">Condition</v-label>
        <v-select
          id="kind"
          :model-value="kindOf(condition)"
          :items="[
            { value: '', title: mixed ? 'different ones' : 'none: adiabatic wall' },
            ...options.map(({ option }) => ({ value: option.value, title: option.label })),
          ]"
          @update:model-value="give($event)"
        />
        <KindForm
          v-if="condition && form"
          :subject="condition as unknown as Record<string, unknown>"
          :form="form"
          :fluid="fluid"
          :round="round"
          :bad="problemAt"
          @change="change"
        />
        <template v-if="condition">
          <v-label
            id="condition-present-label"
            v-tip="'not zero: the condition is there; an input can switch it on and off'"
            for="condition-present"
            >Active</v-label
          >
          <QuantityField
            id="condition-present"
            :problem="problemAt('present')"
            :value="text('present')"
            @enter="change('present', (c) => (c.present = $event || '1'))"
          />
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(150px, 46%) 1fr;
  gap: 12px;
  min-height: 0;
  flex: 1;
}
.line {
  display: flex;
  align-items: baseline;
  gap: 6px;
  white-space: nowrap;
}
.given {
  min-width: 0;
  margin-left: auto;
  overflow: hidden;
  text-overflow: ellipsis;
}
.copies {
  padding: 3px 5px;
  min-height: 24px;
}
.doubt {
  color: var(--doubt);
}
.problems {
  padding-left: 16px;
  margin: 0 0 4px;
}
.copy {
  padding-inline-start: 20px !important;
}
.names {
  max-height: 40px;
  overflow: auto;
}
.hint-line {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-weight: 400;
  font-family: var(--font-text);
}
.hint {
  grid-column: 1 / -1;
  margin: 0;
}
</style>
