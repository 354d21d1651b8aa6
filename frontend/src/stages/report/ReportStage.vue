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
    <p v-else-if="theCase.staleBecause.length" class="doubt">
      The case has changed since it was solved ({{ theCase.staleBecause.join(', ') }}): the report will say so and leave the fields
      out.
    </p>
    <div class="form">
      <v-label id="note-label" for="note">Remarks</v-label>
      <v-textarea
        id="note"
        rows="4"
        :model-value="theCase.document?.note"
        @update:model-value="theCase.edit('note', (d) => (d.note = $event))"
      />
    </div>
    <p>
      <v-btn color="primary" variant="flat" :to="`/cases/${theCase.id}/print`" data-test="open-report"
        >Open the page to print</v-btn
      >
    </p>
  </div>
</template>
