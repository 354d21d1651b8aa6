<script setup lang="ts">
import { useRouter } from 'vue-router'

import { useCase } from '../stores/case'

/** Two tabs edited one case: nothing is thrown away, the user chooses. */
const theCase = useCase()
const router = useRouter()

async function choose(choice: 'theirs' | 'mine' | 'copy'): Promise<void> {
  const copy = await theCase.settle(choice)
  if (copy !== null) await router.push(`/cases/${copy}/draw`)
}
</script>

<template>
  <v-dialog :model-value="theCase.conflict !== null" persistent max-width="520">
    <v-card class="conflict" role="alertdialog" data-test="conflict">
      <h2 class="pad-title">This case was saved elsewhere meanwhile</h2>
      <p v-for="p in theCase.conflict?.problems ?? []" :key="p.field">{{ p.problem }}.</p>
      <p class="muted">Both versions stay among the earlier saves, whatever you choose.</p>
      <div class="row">
        <v-btn color="primary" variant="flat" @click="choose('copy')">Keep mine as a copy</v-btn>
        <v-btn @click="choose('mine')">Put mine on top</v-btn>
        <v-btn @click="choose('theirs')">Take the other one</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.conflict {
  padding: 18px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
p {
  margin: 0;
}
</style>
