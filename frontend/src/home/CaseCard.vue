<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '../api/client'
import { useUnits } from '../quantity/units'

/** A case on the home page: its sketch and its key answers. */
const props = defineProps<{ card: Schemas['CaseCardOut'] }>()
const emit = defineEmits<{ open: []; copy: []; remove: [] }>()
const units = useUnits()
const WIDTH = 360
const HEIGHT = 92

const paths = computed(() => {
  const sketch = props.card.sketch
  if (!sketch) return []
  const [x0, y0, x1, y1] = sketch.bounds as [number, number, number, number]
  let sx = WIDTH / (x1 - x0)
  let sy = HEIGHT / (y1 - y0)
  if (Math.max(sx / sy, sy / sx) < 6) sx = sy = Math.min(sx, sy)
  return sketch.parts.map((part) => ({
    name: part.name,
    fluid: part.fluid,
    d: part.rings.map((ring) => `M${ring.map(([x, y]) => `${(x! - x0) * sx + 1},${(y1 - y!) * sy + 1}`).join('L')}Z`).join(''),
  }))
})
const states: Record<string, string> = { done: 'solved', queued: 'waiting', running: 'running', failed: 'failed', stopped: 'stopped' }
</script>

<template>
  <article class="sheet card">
    <button class="open" :aria-label="`open ${card.title}`" @click="emit('open')">
      <h2 class="pad-title">{{ card.title }}</h2>
      <svg :viewBox="`0 0 ${WIDTH + 2} ${HEIGHT + 2}`" aria-hidden="true">
        <path v-for="p in paths" :key="p.name" :d="p.d" :class="p.fluid ? 'fluid' : 'solid'" fill-rule="evenodd" />
      </svg>
      <table class="dense">
        <tbody>
          <tr v-for="row in card.ledger.slice(0, 4)" :key="row.name">
            <td>{{ row.name }}</td>
            <td class="number"><b>{{ units.withUnit(row.value, row.kind) }}</b></td>
            <td class="number muted small">{{ row.solved !== null ? 'solved' : 'by hand' }}</td>
          </tr>
        </tbody>
      </table>
    </button>
    <footer class="row small muted">
      <span>{{ card.problems ? `${card.problems} problems` : card.run_state ? states[card.run_state] : 'not solved yet' }}</span>
      <span class="grow"></span>
      <button class="pad-button quiet small" @click="emit('copy')">copy</button>
      <button class="pad-button quiet small" @click="emit('remove')">delete</button>
    </footer>
  </article>
</template>

<style scoped>
.card { padding: 0; }
.open { font: inherit; color: inherit; text-align: left; background: none; border: 0; padding: 12px 14px 6px; cursor: pointer; flex: 1; display: flex; flex-direction: column; justify-content: flex-start; }
.card:hover { border-color: var(--heat); }
svg { width: 100%; display: block; margin: 4px 0 8px; }
.fluid { fill: var(--fluid); stroke: var(--ink); }
.solid { fill: var(--solid); stroke: var(--ink); }
footer { padding: 2px 14px 6px; }
h2 { margin: 0; }
</style>
