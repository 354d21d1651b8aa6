<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Stage } from '../router'
import { useCase } from '../stores/case'

/** A first case, shown step by step: each step is done by doing it. */
const props = defineProps<{ stage: Stage }>()
const theCase = useCase()
const route = useRoute()
const router = useRouter()
const begun = JSON.stringify(theCase.document?.inputs ?? {})
const read = ref(false)
const seen = ref(0)

const steps = computed(() => [
  {
    text: 'Change the plate length, under Given or on the drawing: the By hand column of the Ledger follows while you type.',
    done: JSON.stringify(theCase.document?.inputs ?? {}) !== begun,
  },
  {
    text: 'Press Solve under 4 (or Ctrl Enter): the field is solved, and the Ledger says whether it agrees with the hand calculation.',
    done: theCase.solution !== null,
  },
  { text: 'Go to Read (5) and point at the drawing: temperatures and speeds are told where you point.', done: read.value },
  {
    text: 'Go to Size (7) and press Find it: the length at which the effectiveness is 0.85.',
    done: theCase.sizing?.state === 'done',
  },
  { text: 'Go to Report (8): to read and print, with sources and evidence. That is all there is to it.', done: false },
])
const at = computed(() =>
  Math.max(
    seen.value,
    steps.value.findIndex((step) => !step.done),
  ),
)
watch(at, (now) => (seen.value = now))
watch(
  () => [props.stage, theCase.readable] as const,
  ([stage, readable]) => {
    if (stage === 'read' && readable) read.value = true
  },
)

function end(): void {
  void router.replace({ path: route.path })
}
</script>

<template>
  <section class="sheet tour" aria-label="A first case" data-test="tour">
    <span class="row" role="status"
      ><b>First case, {{ at + 1 }} of {{ steps.length }}</b> {{ steps[at]?.text }}</span
    >
    <span class="row">
      <v-btn v-if="at < steps.length - 1" variant="text" size="small" @click="seen = at + 1">skip this</v-btn>
      <v-btn size="small" @click="end">{{ at < steps.length - 1 ? 'end the tour' : 'done' }}</v-btn>
    </span>
  </section>
</template>

<style scoped>
.tour {
  flex: none;
  flex-direction: row;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 10px;
  border-color: var(--heat);
  flex-wrap: wrap;
}
</style>
