<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { api, take, type Sketch } from '../api/client'
import { useUnits } from '../quantity/units'
import MiniSketch from '../sketch/MiniSketch.vue'

/** Starters by kind of equipment, with their sections; found by any word of theirs. */
const props = defineProps<{
  /** Whether pictures are wanted now: they come behind what is more urgent. */
  pictures: boolean
}>()
const emit = defineEmits<{ begin: [key: string] }>()
const units = useUnits()
const text = ref('')
const sketches = ref(new Map<string, Sketch>())

const families = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  const found = (units.catalogue?.starters ?? []).filter((s) =>
    words.every((word) => `${s.family} ${s.label} ${s.summary}`.toLowerCase().includes(word)),
  )
  return [...new Set(found.map((s) => s.family))].map((family) => ({ family, starters: found.filter((s) => s.family === family) }))
})

watch(
  () => props.pictures,
  async (wanted) => {
    if (!wanted || sketches.value.size) return
    // Without pictures the words are enough to begin.
    const drawn = await take(api.GET('/api/starters')).catch(() => [])
    sketches.value = new Map(drawn.map(({ key, sketch }) => [key, sketch]))
  },
  { immediate: true },
)
</script>

<template>
  <v-text-field
    v-model="text"
    aria-label="find a starter"
    placeholder="find: tube, fins, melting, radiation…"
    clearable
    data-test="find-starter"
  />
  <div class="scroll list">
    <section v-for="{ family, starters } in families" :key="family" :aria-label="family">
      <h3>{{ family }}</h3>
      <v-list>
        <v-list-item
          v-for="s in starters"
          :key="s.key"
          v-tip="s.summary"
          :data-starter="s.key"
          :aria-label="`begin ${s.label}`"
          @click="emit('begin', s.key)"
        >
          <template #prepend
            ><MiniSketch class="picture" :sketch="sketches.get(s.key) ?? null" :width="88" :height="34"
          /></template>
          <v-list-item-title
            ><b>{{ s.label }}</b></v-list-item-title
          >
          <v-list-item-subtitle>{{ s.summary }}</v-list-item-subtitle>
        </v-list-item>
      </v-list>
    </section>
    <p v-if="!families.length" class="muted">No starter has all these words. “Empty section” begins from nothing.</p>
  </div>
</template>

<style scoped>
.v-text-field {
  flex: none;
}
.list {
  margin-top: 6px;
}
h3 {
  font: inherit;
  font-size: var(--size-small);
  font-weight: 600;
  color: var(--muted);
  margin: 8px 0 1px;
}
.picture {
  width: 90px;
  margin-right: 10px;
  flex: none;
}
</style>
