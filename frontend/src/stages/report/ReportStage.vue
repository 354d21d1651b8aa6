<script setup lang="ts">
import { useCase } from '../../stores/case'
import { useViews } from '../../stores/views'
import { readingOf } from '../../stores/wishes'

/** Report: one page with sketch, Given, Ledger, fields and evidence. */
const theCase = useCase()
const views = useViews()

function printView(name: string, printed: boolean): void {
  theCase.edit(`reading.views.printed ${name}`, (d) => {
    const view = readingOf(d).views.find((one) => one.name === name)
    if (view) view.printed = printed
  })
}
</script>

<template>
  <h2>Report</h2>
  <div class="scroll">
    <p>One page: the sketch, Given, the Ledger, the temperature field, and the evidence. Views come on pages after it.</p>
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
    <div class="also">
      <v-checkbox
        v-for="view in views.views"
        :key="view.name"
        :model-value="view.printed"
        :label="`view: ${view.name}`"
        data-test="print-view"
        @update:model-value="printView(view.name, Boolean($event))"
      />
      <v-checkbox
        :model-value="theCase.document?.reading?.balances ?? false"
        label="balances of mass, heat and momentum"
        data-test="print-balances"
        @update:model-value="theCase.edit('reading.balances', (d) => (readingOf(d).balances = Boolean($event)))"
      />
    </div>
    <p>
      <v-btn color="primary" variant="flat" :to="`/cases/${theCase.id}/print`" data-test="open-report"
        >Open the page to print</v-btn
      >
      <v-btn
        v-tip="'the case with its saves, runs, fields and series, to be opened again from the home page'"
        variant="text"
        :href="`/api/cases/${theCase.id}/archive.zip`"
        data-test="archive"
        >everything as one archive</v-btn
      >
    </p>
  </div>
</template>
