<script setup lang="ts">
import DimensionLabel from './DimensionLabel.vue'
import type { Labelling } from './labelling'

/** Names, flags and dimensions on the drawing, each where it covers nothing. */
defineProps<{
  labels: Labelling
  over: boolean
  still: boolean
  selected: (boundary: { name: string; general: string }) => boolean
}>()
const emit = defineEmits<{ select: [boundary: string, event: MouseEvent] }>()
const standing = (spot: { x: number; y: number }) => ({ left: `${spot.x}px`, top: `${spot.y}px` })
</script>

<template>
  <span
    v-for="{ item: p, spot } in labels.names"
    :key="p.name"
    class="part-label"
    :class="{ tiny: p.small, plate: p.plate }"
    :style="standing(spot)"
  >
    <b>{{ p.name }}</b>
    <span v-if="p.material" class="muted">&nbsp;{{ p.material }}</span>
  </span>
  <button
    v-for="{ item: f, spot } in labels.flags"
    :key="f.boundary.name"
    v-tip="`${f.boundary.general}: ${f.boundary.flag}`"
    class="flag"
    :class="[f.side, f.boundary.kind, { selected: selected(f.boundary) }]"
    :style="standing(spot)"
    :tabindex="still ? -1 : 0"
    :data-flag="f.boundary.general"
    @click="emit('select', f.boundary.general, $event)"
  >
    <span v-if="f.arrow" class="arrow">{{ f.arrow }}</span>
    <span v-for="(piece, i) in f.boundary.flag.split(' · ')" :key="i" class="piece">{{ piece }}</span>
  </button>
  <DimensionLabel
    v-for="{ item: d, spot } in labels.dimensions"
    :key="`${d.dimension.field}${d.dimension.part}`"
    :dimension="d.dimension"
    :still="still"
    :style="standing(spot)"
    :class="{ over }"
  />
</template>

<style scoped>
.part-label {
  position: absolute;
  transform: translate(-50%, -50%);
  pointer-events: none;
  white-space: nowrap;
}
.part-label.tiny {
  font-size: 11px;
  line-height: 1;
}
.part-label.plate {
  background: var(--sheet);
}
.flag {
  position: absolute;
  transform: translate(-50%, -50%);
  font: inherit;
  color: var(--ink);
  /* Hit in a larger box than is covered. */
  background: color-mix(in srgb, var(--sheet) 78%, transparent) content-box;
  border: 0;
  padding: 3px 2px;
  cursor: pointer;
  white-space: nowrap;
  line-height: 1.25;
  display: flex;
  flex-direction: column;
  min-width: 24px;
  min-height: 24px;
  justify-content: center;
}
.flag .arrow {
  font-size: 15px;
  line-height: 0.9;
  color: var(--heat);
}
.flag.left {
  align-items: flex-end;
  text-align: right;
}
.flag.right {
  align-items: flex-start;
}
.flag.top,
.flag.bottom {
  flex-direction: row;
  align-items: center;
  gap: 5px;
}
.flag.top .piece + .piece::before,
.flag.bottom .piece + .piece::before {
  content: '·';
  padding-right: 5px;
  color: var(--muted);
}
.flag.symmetry,
.flag.adiabatic {
  color: var(--muted);
  font-size: var(--size-small);
}
.flag.open {
  color: var(--doubt);
  font-weight: 600;
}
.flag.selected {
  color: var(--select);
  font-weight: 600;
}
.flag:hover {
  text-decoration: underline;
}
</style>
