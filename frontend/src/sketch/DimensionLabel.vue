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
    <template v-if="editing">
      <input
        ref="field"
        v-model="text"
        class="entry"
        :class="{ bad: problem }"
        :aria-label="dimension.input ?? `${dimension.edits ?? dimension.field} of the part`"
        :aria-invalid="problem !== undefined"
        :aria-describedby="`dimension-${dimension.part}-${dimension.field}`"
        :data-dimension-edit="dimension.input ?? path"
        @input="type"
        @keydown.enter="end"
        @keydown.esc="cancel"
        @blur="end"
      />
      <span :id="`dimension-${dimension.part}-${dimension.field}`" class="said small" :class="{ fault: problem }">
        {{ problem ? `${problem.problem}; ${problem.remedy}` : dimension.input ? '' : 'name = 12 mm makes it an input' }}
      </span>
    </template>
    <button
      v-else
      v-tip="dimension.input ?? dimension.expression"
      class="value"
      :class="{ bad: problem }"
      :tabindex="still ? -1 : 0"
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
  min-height: 24px;
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
.entry {
  font: inherit;
  width: 110px;
  min-height: 24px;
  color: var(--ink);
  background: var(--raised);
  border: 0;
  outline: 2px solid var(--heat);
  text-align: center;
}
.entry.bad {
  color: var(--fault);
}
.said {
  position: absolute;
  left: 50%;
  top: 100%;
  transform: translateX(-50%);
  background: var(--sheet);
  padding: 0 4px;
  white-space: nowrap;
  z-index: 3;
}
.said:empty {
  display: none;
}
</style>
