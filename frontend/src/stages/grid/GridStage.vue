<script setup lang="ts">
import { computed, onMounted } from 'vue'

import { plain } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useReading } from '../../stores/reading'

/** The grid: one number for fineness, what it makes, and how good it is. */
const theCase = useCase()
const reading = useReading()
const fineness = computed(() => theCase.document?.grid.fineness ?? 1)
const count = computed(() => theCase.view?.grid)
/** Fineness runs in equal ratios: a step always multiplies the cells alike. */
const position = computed(() => Math.log2(fineness.value))

function set(value: number): void {
  if (!Number.isFinite(value)) return
  const rounded = Number(Math.min(Math.max(value, 0.25), 8).toPrecision(3))
  theCase.edit('grid.fineness', (d) => (d.grid.fineness = rounded))
}
onMounted(() => void reading.loadGrid())
</script>

<template>
  <h2>Grid</h2>
  <div class="scroll">
    <div class="form">
      <label for="fineness">Fineness</label>
      <span class="row">
        <input id="fineness" class="pad-input short" type="number" step="any" min="0.25" max="8" :value="fineness" data-test="fineness" @change="set(Number(($event.target as HTMLInputElement).value))" />
        <input class="grow" type="range" min="-2" max="3" step="0.1" :value="position" aria-label="fineness" @input="set(2 ** Number(($event.target as HTMLInputElement).value))" />
      </span>
      <label>Cells</label>
      <span v-if="count" data-test="cell-count"><b>{{ count.cells.toLocaleString('en') }}</b> <span class="muted">in {{ count.columns }} columns and {{ count.rows }} rows</span></span>
      <template v-if="reading.grid">
        <label>Largest ratio of edges</label><span>{{ plain(reading.grid.quality['aspect ratio'] ?? 0, 3) }}</span>
        <label>Largest growth</label><span>{{ plain(reading.grid.quality.growth ?? 1, 3) }}</span>
        <label>Largest skew of faces</label><span>{{ plain(reading.grid.quality['non-orthogonality'] ?? 0, 2) }}°</span>
      </template>
    </div>
    <p v-if="reading.gridError" class="fault" role="alert">{{ reading.gridError }}</p>
    <p class="muted small">Twice the fineness halves every cell: four times the cells, a quarter of the error. Cells are thinnest along walls and between parts. Slender cells along a passage are good ones: little changes that way.</p>
  </div>
</template>

<style scoped>
.short { width: 80px; }
input[type='range'] { accent-color: var(--heat); }
</style>
