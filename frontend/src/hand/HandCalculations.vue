<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import PadMenu from '../pad/PadMenu.vue'
import { useUnits } from '../quantity/units'
import { useCase } from '../stores/case'
import HandForm from './HandForm.vue'

/** The hand calculations of the case: added, switched on and off, bound to the case, taken out. What cannot be evaluated says why. */
const open = defineModel<boolean>({ required: true })
const theCase = useCase()
const units = useUnits()
const chosen = ref(0)
const forms = computed(() => units.catalogue?.relations ?? [])
const estimates = computed(() => theCase.document?.estimates ?? [])
const rows = computed(() =>
  estimates.value.map((estimate, index) => ({
    estimate,
    index,
    form: forms.value.find((form) => form.relation === estimate.relation),
    found: theCase.view?.by_hand?.find((one) => one.index === index),
  })),
)
const row = computed(() => rows.value[chosen.value])

watch(
  () => estimates.value.length,
  (now) => (chosen.value = Math.max(0, Math.min(chosen.value, now - 1))),
)

function add(relation: string): void {
  const form = forms.value.find((one) => one.relation === relation)
  if (!form) return
  theCase.edit('estimates.add', (d) => d.estimates.push({ ...form.fresh } as unknown as (typeof d.estimates)[number]))
  chosen.value = estimates.value.length - 1
}

function remove(index: number): void {
  theCase.edit('estimates.remove', (d) => d.estimates.splice(index, 1))
}

function shift(index: number, step: number): void {
  theCase.edit('estimates.order', (d) => {
    const [one] = d.estimates.splice(index, 1)
    if (one) d.estimates.splice(index + step, 0, one)
  })
  chosen.value = index + step
}

function said(found: (typeof rows.value)[number]['found']): string {
  if (found?.problem) return `${found.problem.problem}; ${found.problem.remedy}`
  return (found?.values ?? []).map((one) => `${one.name} ${units.withUnit(one.value, one.kind)}`).join(' · ')
}
</script>

<template>
  <v-dialog v-model="open" max-width="980" aria-label="hand calculations">
    <v-card class="hand" data-test="hand-calculations">
      <header class="row">
        <h2 class="pad-title">Hand calculations</h2>
        <span class="muted small">the first that gives a quantity stands in the ledger; none keeps a case from being solved</span>
        <span class="grow"></span>
        <PadMenu
          label="add one…"
          data-test="add-hand"
          :items="forms.map((form) => ({ value: form.relation, title: form.label }))"
          @choose="add"
        />
        <v-btn variant="text" size="small" aria-label="close" @click="open = false">close</v-btn>
      </header>
      <p v-if="!rows.length" class="muted">
        None yet: add one to have values by hand beside what is solved, and something to size by.
      </p>
      <div v-else class="columns">
        <ul class="scroll" aria-label="hand calculations of the case">
          <li
            v-for="one in rows"
            :key="one.index"
            :class="{ chosen: one.index === chosen, off: !one.estimate.on }"
            :data-hand="one.index"
          >
            <div class="row">
              <v-checkbox
                :model-value="one.estimate.on"
                :aria-label="`reckon with ${one.form?.label ?? one.estimate.relation}`"
                @update:model-value="
                  theCase.edit(`estimates[${one.index}].on`, (d) => (d.estimates[one.index]!.on = Boolean($event)))
                "
              />
              <v-btn variant="text" size="small" class="name" :aria-pressed="one.index === chosen" @click="chosen = one.index">{{
                one.form?.label ?? one.estimate.relation
              }}</v-btn>
            </div>
            <p class="small" :class="one.found?.problem ? 'doubt' : 'muted'">
              {{ one.estimate.on ? said(one.found) : 'switched off' }}
            </p>
            <div v-if="one.index === chosen" class="row tools">
              <v-btn variant="text" size="small" :disabled="one.index === 0" aria-label="earlier" @click="shift(one.index, -1)"
                >↑</v-btn
              >
              <v-btn
                variant="text"
                size="small"
                :disabled="one.index === rows.length - 1"
                aria-label="later"
                @click="shift(one.index, 1)"
                >↓</v-btn
              >
              <v-btn variant="text" size="small" data-test="remove-hand" @click="remove(one.index)">take out</v-btn>
            </div>
          </li>
        </ul>
        <div class="scroll">
          <template v-if="row?.form">
            <p class="muted small">{{ row.form.summary }}.</p>
            <HandForm
              :key="`${row.index}${row.estimate.relation}`"
              :estimate="row.estimate"
              :index="row.index"
              :form="row.form"
              :problem="row.found?.problem"
            />
          </template>
        </div>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.hand {
  padding: 14px 18px 18px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-height: 86dvh;
}
.columns {
  display: grid;
  grid-template-columns: 300px minmax(0, 1fr);
  gap: 16px;
  min-height: 0;
  flex: 1;
}
.scroll {
  overflow: auto;
  min-height: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-left: 2px solid transparent;
  border-bottom: 1px solid var(--hair);
  padding: 2px 6px 4px;
}
li.chosen {
  border-left-color: var(--heat);
}
li.off .name {
  color: var(--muted);
}
.name {
  text-align: left;
  white-space: normal;
  height: auto;
}
p {
  margin: 0;
}
.tools {
  gap: 2px;
}
@media (max-width: 759px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
    overflow: auto;
  }
  .scroll {
    overflow: visible;
  }
}
</style>
