<script setup lang="ts">
import { computed } from 'vue'

import type { CaseDocument, Schemas } from '../api/client'
import { useCase } from '../stores/case'
import QuestionRow from './QuestionRow.vue'

/** What a hand calculation asks, bound to the inputs, parts and boundaries of the case. */
type Estimate = NonNullable<CaseDocument['estimates']>[number]
type Fields = Record<string, unknown>

const props = defineProps<{
  estimate: Estimate
  index: number
  form: Schemas['RelationForm']
  problem?: Schemas['ProblemOut'] | null
}>()
const theCase = useCase()
const fields = computed(() => props.estimate as unknown as Fields)
const layers = computed(() => (fields.value.layers ?? []) as Fields[])
const problemOf = (path: string) => (props.problem?.field === `estimates[${props.index}].${path}` ? props.problem : undefined)

function answer(field: string, value: unknown): void {
  theCase.edit(`estimates[${props.index}].${field}`, (d) => {
    ;(d.estimates[props.index] as unknown as Fields)[field] = value
  })
}

function change(what: string, apply: (layers: Fields[]) => void): void {
  theCase.edit(`estimates[${props.index}].layers.${what}`, (d) => {
    apply((d.estimates[props.index] as unknown as { layers: Fields[] }).layers)
  })
}

const freshLayer = () => ({
  part: '',
  thickness: '',
  resistance: '',
  area: '',
  narrow: '',
  height: '',
  emissivity: '',
  emissivity_beyond: '',
})
</script>

<template>
  <div class="form">
    <template v-for="question in form.questions" :key="question.field">
      <div v-if="question.control === 'layers'" class="layers">
        <div v-for="(layer, k) in layers" :key="k" class="layer" role="group" :aria-label="`layer ${k + 1}`">
          <p class="muted small">layer {{ k + 1 }}</p>
          <div class="form">
            <QuestionRow
              v-for="one in question.of_each ?? []"
              :key="one.field"
              :question="one"
              :value="layer[one.field]"
              :at="`hand-${index}-layer-${k}-${one.field}`"
              :problem="problemOf(`layers[${k}].${one.field}`)"
              @answer="change(`${k}.${one.field}`, (all) => (all[k]![one.field] = $event))"
            />
          </div>
          <v-btn
            variant="text"
            size="small"
            :aria-label="`take layer ${k + 1} out`"
            @click="change('out', (all) => all.splice(k, 1))"
            >take it out</v-btn
          >
        </div>
        <v-btn variant="text" size="small" data-test="add-layer" @click="change('add', (all) => all.push(freshLayer()))"
          >add a layer</v-btn
        >
      </div>
      <QuestionRow
        v-else
        :question="question"
        :value="fields[question.field]"
        :at="`hand-${index}-${question.field}`"
        :problem="problemOf(question.field)"
        @answer="answer(question.field, $event)"
      />
    </template>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: minmax(120px, max-content) minmax(0, 1fr);
  gap: 2px 10px;
  align-items: center;
}
.layers {
  grid-column: 1 / -1;
}
.layer {
  border: 1px solid var(--hair);
  margin: 2px 0 6px;
  padding: 0 8px 4px;
}
.layer p {
  margin: 2px 0;
}
</style>
