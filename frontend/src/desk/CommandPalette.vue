<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

/** Every command by name, from the keyboard. */
export interface Command {
  name: string
  keys?: string
  run: () => void
}

const props = defineProps<{ commands: Command[] }>()
const open = defineModel<boolean>({ required: true })
const text = ref('')
const at = ref(0)
const field = ref<HTMLInputElement | null>(null)
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props.commands.filter((c) => words.every((w) => c.name.toLowerCase().includes(w)))
})

watch(open, async (now) => {
  if (!now) return
  text.value = ''
  at.value = 0
  await nextTick()
  window.setTimeout(() => field.value?.focus(), 60)
})
watch(text, () => (at.value = 0))

function key(event: KeyboardEvent): void {
  const turn = { ArrowDown: 1, ArrowUp: -1 }[event.key]
  if (turn) {
    at.value = (at.value + turn + found.value.length) % Math.max(found.value.length, 1)
    event.preventDefault()
  } else if (event.key === 'Enter') choose(found.value[at.value])
}

function choose(command: Command | undefined): void {
  open.value = false
  command?.run()
}
</script>

<template>
  <v-dialog v-model="open" max-width="480" location="top" scroll-strategy="none">
    <div class="sheet palette" data-test="palette">
      <input ref="field" v-model="text" class="pad-input" placeholder="what do you want to do?" aria-label="command" @keydown="key" />
      <ul class="scroll">
        <li v-for="(c, i) in found" :key="c.name" :class="{ at: i === at }"><button @click="choose(c)">{{ c.name }} <kbd v-if="c.keys">{{ c.keys }}</kbd></button></li>
        <li v-if="!found.length" class="muted">nothing by that name</li>
      </ul>
    </div>
  </v-dialog>
</template>

<style scoped>
.palette { padding: 14px; gap: 8px; }
ul { list-style: none; margin: 0; padding: 0; max-height: 340px; }
li button { font: inherit; color: inherit; background: none; border: 0; width: 100%; text-align: left; padding: 4px 6px; cursor: pointer; display: flex; justify-content: space-between; }
li.at, li:hover { background: var(--heat-wash); }
</style>
