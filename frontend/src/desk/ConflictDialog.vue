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
    <div class="sheet conflict" role="alertdialog" data-test="conflict">
      <h2>This case was saved elsewhere meanwhile</h2>
      <p v-for="p in theCase.conflict?.problems ?? []" :key="p.field">{{ p.problem }}.</p>
      <p class="muted">Both versions stay among the earlier saves, whatever you choose.</p>
      <div class="row">
        <button class="pad-button main" @click="choose('copy')">Keep mine as a copy</button>
        <button class="pad-button" @click="choose('mine')">Put mine on top</button>
        <button class="pad-button" @click="choose('theirs')">Take the other one</button>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.conflict { padding: 18px; gap: 8px; }
p { margin: 0; }
</style>
