<script setup lang="ts">
import { computed, ref } from 'vue'

import { useViews } from '../../stores/views'

/** Views kept with the case: take one, or keep what is seen. */
const views = useViews()
const naming = ref<string | null>(null)
const items = computed(() => [
  ...(views.current ? [] : [{ value: '', title: 'as it is' }]),
  ...views.views.map((view) => ({ value: view.name, title: view.name })),
])

function take(name: string | null): void {
  const view = views.views.find((one) => one.name === name)
  if (view) void views.apply(view)
}

function keep(): void {
  const name = naming.value?.trim()
  naming.value = null
  if (name) views.keep(name)
}
</script>

<template>
  <v-label id="view-label" for="view">View</v-label>
  <span class="row views">
    <template v-if="naming === null">
      <v-select
        v-if="views.views.length"
        id="view"
        :model-value="views.current"
        data-test="view"
        :items="items"
        @update:model-value="take"
      />
      <v-btn
        v-tip="'keep what is seen with the case: field, colours, lines, zoom and time'"
        variant="text"
        size="small"
        data-test="keep-view"
        @click="naming = views.current || ''"
        >keep as…</v-btn
      >
      <v-btn
        v-if="views.current"
        variant="text"
        size="small"
        :aria-label="`take out the view ${views.current}`"
        @click="views.remove(views.current)"
        >×</v-btn
      >
    </template>
    <template v-else>
      <v-text-field
        id="view"
        v-model="naming"
        autofocus
        maxlength="60"
        placeholder="name of the view"
        data-test="view-name"
        @keydown.enter="keep"
        @keydown.esc="naming = null"
      />
      <v-btn variant="text" size="small" :disabled="!naming.trim()" @click="keep">keep</v-btn>
    </template>
  </span>
</template>

<style scoped>
.views {
  gap: 4px;
}
.views .v-input {
  flex: 1;
}
</style>
