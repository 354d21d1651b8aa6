<script setup lang="ts">
import { computed } from 'vue'

import TextField from '../../quantity/TextField.vue'
import PadMenu from '../../pad/PadMenu.vue'
import { mm } from '../../sketch/written'
import { useCase } from '../../stores/case'

/** Finer or coarser places: parts, boundaries or a box, as a multiple of the section's fineness. */
const theCase = useCase()
const local = computed(() => theCase.document?.grid.local ?? [])
const places = computed(() => {
  const parts = (theCase.document?.section.parts ?? []).filter((p) => p.material !== 'void').map((p) => p.name)
  const origin = new Map((theCase.sketch?.parts ?? []).map((p) => [p.name, p.origin]))
  const general = (name: string) =>
    name
      .split(' | ')
      .map((n) => origin.get(n) ?? n)
      .join(' | ')
  return [...new Set([...parts, ...(theCase.sketch?.boundaries ?? []).map((b) => (b.interface ? general(b.name) : b.general))])]
})
const CORNERS = ['left', 'bottom', 'right', 'top']

function add(chosen: string): void {
  const b = theCase.sketch?.bounds ?? [0, 0, 0.1, 0.1]
  const box =
    chosen === 'box'
      ? [0.4 * b[2]! + 0.6 * b[0]!, 0.4 * b[3]! + 0.6 * b[1]!, 0.6 * b[2]! + 0.4 * b[0]!, 0.6 * b[3]! + 0.4 * b[1]!].map(mm)
      : []
  theCase.edit('grid.local.add', (d) => d.grid.local.push({ at: box.length ? [] : [chosen], box, fineness: 2 }))
}

function setFineness(index: number, event: Event): void {
  const value = Number((event.target as HTMLInputElement).value)
  if (value >= 0.1 && value <= 10) theCase.edit(`grid.local[${index}].fineness`, (d) => (d.grid.local[index]!.fineness = value))
}
</script>

<template>
  <div class="local">
    <div v-for="(item, i) in local" :key="i" class="row">
      <template v-if="item.box.length">
        <span class="muted">box</span>
        <TextField
          v-for="(corner, k) in item.box"
          :key="k"
          :path="`grid.local[${i}].box[${k}]`"
          :value="corner"
          :aria-label="CORNERS[k]!"
        />
      </template>
      <span v-else class="grow">{{ item.at.join('; ') }}</span>
      <span class="muted">×</span>
      <v-text-field
        class="factor"
        type="number"
        min="0.1"
        max="10"
        step="any"
        :model-value="item.fineness"
        :aria-label="`how much finer at ${item.at.join('; ') || 'the box'}`"
        @change="setFineness(i, $event)"
      />
      <v-btn
        variant="text"
        size="small"
        aria-label="take it away"
        @click="theCase.edit('grid.local.remove', (d) => d.grid.local.splice(i, 1))"
        >×</v-btn
      >
    </div>
    <PadMenu
      label="finer at"
      data-test="finer-at"
      :items="[{ value: 'box', title: 'a box' }, ...places.map((name) => ({ value: name, title: name }))]"
      @choose="add"
    />
  </div>
</template>

<style scoped>
.local {
  margin-top: 6px;
}
.factor {
  width: 46px;
}
</style>
