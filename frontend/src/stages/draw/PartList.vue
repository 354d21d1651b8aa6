<script setup lang="ts">
import { computed } from 'vue'

import { useNotices } from '../../pad/notices'
import { useCase } from '../../stores/case'
import { useDrawing } from '../../stores/drawing'

/** The parts in painter's order; the chosen one is moved up and down here, or taken out. */
const theCase = useCase()
const drawing = useDrawing()
const notices = useNotices()
const parts = computed(() => theCase.document?.section.parts ?? [])
const words: Record<string, string> = { line: 'in line', grid: 'in a grid', staggered: 'staggered', around: 'around' }
const absent = (name: string) => theCase.sketch !== null && !theCase.sketch.outlines.some((o) => o.origin === name)

function shift(step: number): void {
  const from = drawing.part
  theCase.edit('section.parts.order', (d) => {
    const [part] = d.section.parts.splice(from, 1)
    if (part) d.section.parts.splice(from + step, 0, part)
  })
  drawing.part = from + step
}

async function remove(): Promise<void> {
  const name = parts.value[drawing.part]?.name
  if (!name) return
  const also = await theCase.reach('remove_part', name)
  drawing.part = Math.max(0, Math.min(drawing.part, parts.value.length - 1))
  const more = also.length > 3 ? ` and ${also.length - 3} more` : ''
  notices.say(`${name} is taken out${also.length ? `, with it ${also.slice(0, 3).join('; ')}${more}` : ''}`, theCase.undo)
}

function copy(): void {
  theCase.edit('section.parts.copy', (d) => {
    const part = JSON.parse(JSON.stringify(d.section.parts[drawing.part])) as (typeof d.section.parts)[number]
    const taken = new Set(d.section.parts.map((p) => p.name))
    let number = 2
    while (taken.has(`${part.name} copy ${number}`)) number++
    part.name = `${part.name} copy ${number}`
    d.section.parts.splice(drawing.part + 1, 0, part)
  })
  drawing.part++
}

function arrow(event: KeyboardEvent): void {
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key]
  if (!step) return
  event.preventDefault()
  const next = drawing.part + step
  if (next < 0 || next >= parts.value.length) return
  if (event.altKey) shift(step)
  else drawing.part = next
}
</script>

<template>
  <div class="parts">
    <v-list class="scroll" role="listbox" aria-label="parts in painter's order" tabindex="0" @keydown="arrow">
      <v-list-item
        v-for="(part, i) in parts"
        :key="i"
        role="option"
        tabindex="-1"
        :aria-selected="i === drawing.part"
        :active="i === drawing.part"
        :class="{ absent: absent(part.name) }"
        :data-part="part.name"
        @click="drawing.part = i"
      >
        <v-list-item-title>{{ part.name }}</v-list-item-title>
        <v-list-item-subtitle
          >{{ part.material === 'void' ? 'void ' : '' }}{{ part.shape.type }}{{ part.repeat ? ` ${words[part.repeat.pattern]}` : ''
          }}{{ absent(part.name) ? ', off' : '' }}</v-list-item-subtitle
        >
      </v-list-item>
    </v-list>
    <div class="row tools">
      <v-btn
        v-tip="'paint earlier (Alt ↑)'"
        variant="text"
        size="small"
        :disabled="drawing.part === 0"
        aria-label="paint earlier"
        @click="shift(-1)"
        >↑</v-btn
      >
      <v-btn
        v-tip="'paint later (Alt ↓)'"
        variant="text"
        size="small"
        :disabled="drawing.part >= parts.length - 1"
        aria-label="paint later"
        @click="shift(1)"
        >↓</v-btn
      >
      <v-btn v-tip="'a copy of the part'" variant="text" size="small" @click="copy">copy</v-btn>
      <v-btn
        v-tip="'take the part out, with what stands on it'"
        variant="text"
        size="small"
        :disabled="!parts.length"
        data-test="remove-part"
        @click="remove"
        >remove</v-btn
      >
    </div>
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-right: 1px solid var(--hair);
  padding-right: 6px;
}
.absent {
  color: var(--muted);
  text-decoration: line-through;
}
.tools {
  gap: 0;
}
.tools .v-btn {
  padding: 0 3px;
}
</style>
