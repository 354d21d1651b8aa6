<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'

import type { Dimension } from '../api/client'
import { useCase } from '../stores/case'
import { withDefaultUnit } from '../quantity/entry'

/** A dimension on the drawing; edited in place, it changes the input behind it. */
const props = defineProps<{ dimension: Dimension & { edits?: string }; still?: boolean }>()
const theCase = useCase()
const editing = ref(false)
const text = ref('')
const field = ref<HTMLInputElement | null>(null)
const path = computed(() =>
  props.dimension.input
    ? `inputs.${props.dimension.input}`
    : `section.parts[${props.dimension.part}].shape.${props.dimension.edits ?? props.dimension.field}`,
)
const problem = computed(() => theCase.problemOf(path.value))

async function begin(): Promise<void> {
  if (props.still) return
  text.value = props.dimension.expression
  editing.value = true
  await nextTick()
  field.value?.select()
}

function write(value: string): void {
  if (props.dimension.input) theCase.setInput(props.dimension.input, value)
  else theCase.setText(path.value, value)
}

/** While typing the hand calculation follows; a bare number takes the unit it had. */
function type(): void {
  // A name makes an input when the entry is finished, not at its first letter.
  if (text.value.includes('=')) return
  write(withDefaultUnit(text.value, props.dimension.text.split(' ').at(-1) ?? 'mm'))
}

function end(): void {
  if (!editing.value) return
  editing.value = false
  if (text.value.includes('=') && !props.dimension.input) theCase.setText(path.value, text.value)
}

function cancel(): void {
  write(props.dimension.expression)
  text.value = ''
  editing.value = false
  theCase.undo()
}
</script>

<template>
  <span class="label">
    <input
      v-if="editing"
      ref="field"
      v-model="text"
      class="pad-input"
      :class="{ bad: problem }"
      :title="problem ? `${problem.problem}; ${problem.remedy}` : 'name = 12 mm makes it an input'"
      :aria-label="dimension.input ?? `${dimension.edits ?? dimension.field} of the part`"
      :data-dimension-edit="dimension.input ?? path"
      @input="type"
      @keydown.enter="end"
      @keydown.esc="cancel"
      @blur="end"
    />
    <button
      v-else
      class="value"
      :class="{ bad: problem }"
      :tabindex="still ? -1 : 0"
      :title="dimension.input ?? dimension.expression"
      :data-dimension="dimension.input ?? path"
      @click="begin"
    >
      {{ dimension.text }}
    </button>
  </span>
</template>

<style scoped>
.label {
  position: absolute;
  transform: translate(-50%, -50%);
}
.value {
  font: inherit;
  font-weight: 500;
  background: var(--sheet);
  color: var(--ink);
  border: 0;
  padding: 0 5px;
  cursor: text;
  white-space: nowrap;
}
.value:hover {
  color: var(--heat);
  text-decoration: underline;
}
.value.bad {
  color: var(--fault);
}
.over .value {
  opacity: 0.92;
}
.pad-input {
  width: 110px;
  background: var(--raised);
  text-align: center;
}
</style>
