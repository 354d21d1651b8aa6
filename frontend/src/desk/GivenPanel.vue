<script setup lang="ts">
import { computed, ref } from 'vue'

import QuantityField from '../quantity/QuantityField.vue'
import { useCase } from '../stores/case'
import InputDialog from './InputDialog.vue'

/** Given: the inputs, as numbers with units or expressions; typing moves the hand calculation. */
const emit = defineEmits<{ fold: [] }>()
const theCase = useCase()
/** The input that is being changed; an empty name for a new one. */
const editing = ref<string | null>(null)
const rows = computed(() =>
  Object.entries(theCase.document?.inputs ?? {}).map(([name, item]) => ({
    name,
    item,
    text: theCase.view?.inputs.find((i) => i.name === name)?.text ?? '',
    problem: theCase.problemOf(`inputs.${name}`),
    changed: theCase.staleBecause.includes(name),
  })),
)
const isLiteral = (value: string) =>
  /^\s*[-+]?[\d.]+([eE][-+]?\d+)?\s*\D*$/.test(value) && !/[*/()]/.test(value.replace(/\/[a-z]/gi, ''))
</script>

<template>
  <section class="sheet" aria-label="Given" data-test="given">
    <h2>
      Given
      <span class="grow"></span>
      <v-btn
        v-tip="'a dimension or value that can be varied and sized'"
        variant="text"
        size="small"
        data-test="add-input"
        @click="editing = ''"
        >add</v-btn
      >
      <v-btn
        v-tip="'fold Given away'"
        variant="text"
        size="small"
        aria-label="fold Given"
        data-test="fold-given"
        @click="emit('fold')"
        >◂</v-btn
      >
    </h2>
    <div class="scroll">
      <div v-for="row in rows" :key="row.name" class="item" :class="{ changed: row.changed }">
        <span class="called">
          <v-label
            :id="`input-${row.name}-label`"
            v-tip="[row.name, row.item.note].filter(Boolean).join(': ')"
            :for="`input-${row.name}`"
            >{{ row.item.label || row.name }}</v-label
          >
          <v-btn
            class="cell muted"
            :aria-label="`change the input ${row.name}`"
            :data-edit-input="row.name"
            @click="editing = row.name"
            >⋯</v-btn
          >
        </span>
        <QuantityField
          :id="`input-${row.name}`"
          class="number"
          live
          :value="row.item.value"
          :unit="(row.item.unit ?? '').replace('deg', '°')"
          :problem="row.problem"
          :says="!row.problem && row.text && !isLiteral(row.item.value) ? `= ${row.text}` : ''"
          :data-input="row.name"
          @enter="theCase.setInput(row.name, $event)"
        />
      </div>
      <p v-if="!rows.length" class="muted small">No inputs yet. Type <i>name = 12 mm</i> in any field, or add one here.</p>
    </div>
    <InputDialog v-model="editing" />
  </section>
</template>

<style scoped>
.item {
  display: grid;
  grid-template-columns: 1fr 112px;
  align-items: baseline;
  gap: 0 8px;
  padding: 0 2px 0 5px;
  border-left: 2px solid transparent;
}
.called {
  position: relative;
  min-width: 0;
}
.called .v-btn {
  position: absolute;
  right: 0;
  top: 0;
  background: var(--sheet);
}
.called .v-btn {
  visibility: hidden;
}
.item:hover .called .v-btn,
.called .v-btn:focus-visible {
  visibility: visible;
}
.item.changed {
  border-left-color: var(--heat);
}
.item :deep(.v-label) {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  display: block;
}
/* What is wrong needs the width of the row. */
.item:has(.v-input--error) {
  grid-template-columns: 1fr;
}
</style>
