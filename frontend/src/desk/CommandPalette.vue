<script setup lang="ts">
import { computed, ref, watch } from 'vue'

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
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props.commands.filter((c) => words.every((w) => c.name.toLowerCase().includes(w)))
})

watch(open, (now) => {
  if (now) text.value = ''
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
  <v-dialog v-model="open" max-width="480" location="top" aria-label="commands">
    <v-card class="palette" data-test="palette">
      <v-text-field
        v-model="text"
        autofocus
        placeholder="what do you want to do?"
        aria-label="command"
        aria-controls="commands-found"
        :aria-activedescendant="found.length ? `command-${at}` : undefined"
        @keydown="key"
      />
      <v-list id="commands-found" class="scroll" role="listbox" aria-label="commands found">
        <v-list-item
          v-for="(c, i) in found"
          :id="`command-${i}`"
          :key="c.name"
          role="option"
          :aria-selected="i === at"
          :active="i === at"
          :title="c.name"
          @click="choose(c)"
        >
          <template v-if="c.keys" #append
            ><kbd>{{ c.keys }}</kbd></template
          >
        </v-list-item>
        <v-list-item v-if="!found.length" class="muted" title="nothing by that name" />
      </v-list>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.palette {
  padding: 14px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.scroll {
  max-height: 340px;
}
</style>
