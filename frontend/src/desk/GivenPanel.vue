<script setup lang="ts">
import { computed, ref } from 'vue'

import { withDefaultUnit } from '../quantity/entry'
import { useCase } from '../stores/case'

/** Given: the inputs, as numbers with units or expressions; typing moves the hand calculation. */
const theCase = useCase()
const rows = computed(() =>
  Object.entries(theCase.document?.inputs ?? {}).map(([name, item]) => ({
    name,
    item,
    text: theCase.view?.inputs.find((i) => i.name === name)?.text ?? '',
    problem: theCase.problemOf(`inputs.${name}`),
    changed: theCase.staleBecause.includes(name),
  })),
)
const isLiteral = (value: string) => /^\s*[-+]?[\d.]+([eE][-+]?\d+)?\s*\D*$/.test(value) && !/[*/()]/.test(value.replace(/\/[a-z]/gi, ''))

/** What is being typed stays as it is typed; the document has it with its unit. */
const typed = ref<{ name: string; text: string } | null>(null)

function type(name: string, unit: string, event: Event): void {
  const text = (event.target as HTMLInputElement).value
  typed.value = { name, text }
  theCase.setInput(name, withDefaultUnit(text, unit.replace('deg', '°')))
}
</script>

<template>
  <section class="sheet" aria-label="Given" data-test="given">
    <h2>Given</h2>
    <div class="scroll">
      <div v-for="row in rows" :key="row.name" class="item" :class="{ changed: row.changed }">
        <label :for="`input-${row.name}`" :title="[row.name, row.item.note].filter(Boolean).join(': ')">{{ row.item.label || row.name }}</label>
        <span class="entry">
          <input
            :id="`input-${row.name}`"
            class="pad-input number"
            :class="{ bad: row.problem }"
            :value="typed?.name === row.name ? typed.text : row.item.value"
            autocomplete="off"
            spellcheck="false"
            :data-input="row.name"
            @input="type(row.name, row.item.unit ?? '', $event)"
            @blur="typed = null"
            @keydown.enter="($event.target as HTMLInputElement).blur()"
          />
          <span v-if="!row.problem && row.text && !isLiteral(row.item.value)" class="muted small">= {{ row.text }}</span>
        </span>
        <p v-if="row.problem" class="fault small" role="alert">{{ row.problem.problem }}; {{ row.problem.remedy }}</p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.item { display: grid; grid-template-columns: 1fr 104px; align-items: baseline; gap: 0 8px; padding: 0 2px 0 5px; border-left: 2px solid transparent; }
.item.changed { border-left-color: var(--heat); }
.item label { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.item p { grid-column: 1 / -1; margin: 0 0 3px; }
.entry { display: flex; flex-direction: column; align-items: flex-end; }
.pad-input { border-bottom-color: var(--hair); padding-top: 0; padding-bottom: 1px; }
</style>
