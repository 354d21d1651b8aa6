<script setup lang="ts">
import { useStorage } from '@vueuse/core'

/** What to do first, until it is dismissed. */
const emit = defineEmits<{ begin: [] }>()
const dismissed = useStorage('wattikos.first-steps.dismissed', false)
</script>

<template>
  <section v-if="!dismissed" class="sheet first" aria-label="What do I do first?" data-test="first-steps">
    <h2>
      What do I do first?
      <span class="grow"></span>
      <v-btn variant="text" size="small" @click="dismissed = true">not again</v-btn>
    </h2>
    <p>
      A case reads like a worked problem: <b>Given</b> is what goes in, the sketch is the thing itself, the <b>Ledger</b> is what
      comes out, by hand at once and solved when you ask.
    </p>
    <div class="row">
      <v-btn color="primary" variant="flat" data-test="first-case" @click="emit('begin')">Show me on a first case</v-btn>
      <v-btn variant="text" to="/help">Keys, words, units, expressions</v-btn>
    </div>
  </section>
</template>

<style scoped>
.first {
  flex: none;
  gap: 6px;
  padding: 12px 14px;
}
p {
  margin: 0;
}
</style>
