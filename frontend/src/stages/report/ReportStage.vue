<script setup lang="ts">
import { useCase } from '../../stores/case'

/** Report: one page with sketch, Given, Ledger, fields and evidence. */
const theCase = useCase()
</script>

<template>
  <h2>Report</h2>
  <div class="scroll">
    <p>One page: the sketch, Given, the Ledger, the temperature field, and the evidence.</p>
    <p v-if="!theCase.solution" class="doubt">Nothing is solved yet: the report will hold the hand calculation alone and say so.</p>
    <p v-else-if="theCase.staleBecause.length" class="doubt">The case has changed since it was solved ({{ theCase.staleBecause.join(', ') }}): the report will say so and leave the fields out.</p>
    <div class="form">
      <label for="note">Remarks</label>
      <textarea id="note" class="pad-input" rows="4" :value="theCase.document?.note" @input="theCase.edit('note', (d) => (d.note = ($event.target as HTMLTextAreaElement).value))"></textarea>
    </div>
    <p><RouterLink class="pad-button main" :to="`/cases/${theCase.id}/print`" data-test="open-report">Open the page to print</RouterLink></p>
  </div>
</template>

<style scoped>
textarea { border: 1px solid var(--line); resize: vertical; }
</style>
