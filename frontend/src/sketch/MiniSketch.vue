<script setup lang="ts">
import { computed } from 'vue'

import type { Sketch } from '../api/client'

/** A section as a small picture; one that is far too slender is stretched across. */
const props = defineProps<{ sketch: Sketch | null; width: number; height: number }>()
const MOST_STRETCH = 6

const paths = computed(() => {
  if (!props.sketch) return []
  const [x0, y0, x1, y1] = props.sketch.bounds as [number, number, number, number]
  let sx = props.width / (x1 - x0)
  let sy = props.height / (y1 - y0)
  if (Math.max(sx / sy, sy / sx) < MOST_STRETCH) sx = sy = Math.min(sx, sy)
  const left = (props.width - sx * (x1 - x0)) / 2 + 1
  const top = (props.height - sy * (y1 - y0)) / 2 + 1
  return props.sketch.parts.map((part) => ({
    name: part.name,
    fluid: part.fluid,
    d: part.rings.map((ring) => `M${ring.map(([x, y]) => `${(x! - x0) * sx + left},${(y1 - y!) * sy + top}`).join('L')}Z`).join(''),
  }))
})
</script>

<template>
  <svg :viewBox="`0 0 ${width + 2} ${height + 2}`" aria-hidden="true">
    <path v-for="p in paths" :key="p.name" :d="p.d" :class="p.fluid ? 'fluid' : 'solid'" fill-rule="evenodd" />
    <rect v-if="!paths.length" x="1" y="1" :width="width" :height="height" class="nothing" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
}
.fluid {
  fill: var(--fluid);
  stroke: var(--ink);
}
.solid {
  fill: var(--solid);
  stroke: var(--ink);
}
.nothing {
  fill: none;
  stroke: var(--line);
  stroke-dasharray: 4 4;
}
</style>
