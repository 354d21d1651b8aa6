<script setup lang="ts">
import { useFileDialog } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'

import { ApiError, fetchFile, saveFile, upload, type Schemas } from '../../api/client'
import { plain, useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useReading } from '../../stores/reading'
import GridStudyDialog from './GridStudyDialog.vue'
import LocalFineness from './LocalFineness.vue'

/** The grid: one number for fineness, finer places, what it makes and how good it is; grids in and out as files. */
const theCase = useCase()
const reading = useReading()
const units = useUnits()
const files = useFileDialog({ accept: '.vtu,.vtk', multiple: false, reset: true })
files.onChange((chosen) => void read(chosen?.[0]))
const fileError = ref('')
const busy = ref(false)
const studying = ref(false)
const fineness = computed(() => theCase.document?.grid.fineness ?? 1)
const wantedCells = computed(() => theCase.document?.grid.cells ?? null)
const imported = computed(() => theCase.document?.grid.file ?? '')
const count = computed(() => theCase.view?.grid)
const cells = computed(() => (imported.value ? undefined : count.value?.cells) ?? reading.grid?.mesh.cells)
/** Fineness runs in equal ratios: a step always multiplies the cells alike. */
const position = computed(() => Math.log2(fineness.value))
const measures = computed(() => [
  {
    name: 'non-orthogonality',
    label: 'skew of faces',
    text: `${plain(reading.grid?.quality['non-orthogonality'] ?? 0, 2)}°`,
    unit: '°',
  },
  { name: 'aspect ratio', label: 'ratio of edges', text: plain(reading.grid?.quality['aspect ratio'] ?? 0, 3), unit: '' },
  { name: 'growth', label: 'growth', text: plain(reading.grid?.quality.growth ?? 1, 3), unit: '' },
])
const worst = computed(() => (reading.grid?.worst ?? []).filter((w) => w.measure === reading.shownWorst))

function set(value: number): void {
  if (!Number.isFinite(value)) return
  const rounded = Number(Math.min(Math.max(value, 0.25), 8).toPrecision(3))
  theCase.edit('grid.fineness', (d) => (d.grid.fineness = rounded))
}

function setCells(text: string): void {
  const wanted = Math.round(Number(text))
  const cells = text.trim() === '' || !Number.isFinite(wanted) ? null : Math.min(Math.max(wanted, 20), 400_000)
  theCase.edit('grid.cells', (d) => (d.grid.cells = cells))
}

async function download(): Promise<void> {
  fileError.value = ''
  try {
    saveFile(await fetchFile('/api/grid.vtu', { document: theCase.document, case: theCase.id }), 'grid.vtu')
  } catch (error) {
    fileError.value = error instanceof Error ? error.message : String(error)
  }
}

async function read(chosen: File | undefined): Promise<void> {
  if (!chosen) return
  fileError.value = ''
  busy.value = true
  try {
    await theCase.save()
    const made = await upload<Schemas['GridFileOut']>(`/api/cases/${theCase.id}/grid-file`, chosen)
    theCase.edit('grid.file', (d) => (d.grid.file = made.name))
  } catch (error) {
    fileError.value = error instanceof ApiError ? error.message : String(error)
  }
  busy.value = false
}
onMounted(() => void reading.loadGrid())
</script>

<template>
  <h2>
    Grid
    <span class="grow"></span>
    <v-btn v-tip="'the grid with the names of parts and boundaries'" variant="text" size="small" @click="download"
      >save as VTU</v-btn
    >
    <v-btn variant="text" size="small" :disabled="busy" @click="files.open()">{{ busy ? 'reading…' : 'use a grid file…' }}</v-btn>
  </h2>
  <div class="columns">
    <div class="scroll">
      <div class="form">
        <template v-if="imported">
          <span class="label">From file</span>
          <span class="row"
            ><b>{{ imported }}</b
            ><v-btn variant="text" size="small" @click="theCase.edit('grid.file', (d) => (d.grid.file = ''))"
              >make it here instead</v-btn
            ></span
          >
        </template>
        <template v-else>
          <v-label id="fineness-label" for="fineness">Fineness</v-label>
          <span class="row">
            <v-text-field
              id="fineness"
              class="short"
              type="number"
              step="any"
              min="0.25"
              max="8"
              :model-value="fineness"
              :disabled="wantedCells !== null"
              data-test="fineness"
              @change="set(Number(($event.target as HTMLInputElement).value))"
            />
            <v-slider
              class="grow"
              min="-2"
              max="3"
              step="0.1"
              :model-value="position"
              :disabled="wantedCells !== null"
              aria-label="fineness, in equal ratios"
              @update:model-value="set(2 ** $event)"
            />
          </span>
        </template>
        <template v-if="!imported">
          <v-label id="about-cells-label" for="about-cells">About so many</v-label>
          <span class="row">
            <v-text-field
              id="about-cells"
              class="short"
              type="number"
              min="20"
              max="400000"
              placeholder="any"
              :model-value="wantedCells ?? ''"
              data-test="about-cells"
              @change="setCells(($event.target as HTMLInputElement).value)"
            />
            <span class="muted small">cells, in place of a fineness</span>
          </span>
        </template>
        <template v-if="!imported && theCase.document?.physics.flow !== 'laminar'">
          <v-label id="layers-label" v-tip="'next to walls of turbulent streams: y⁺ 1, or 50 with the wall treatment'" for="layers"
            >Wall layers</v-label
          >
          <v-select
            id="layers"
            data-test="layers"
            :model-value="theCase.document?.grid.layers"
            :items="[
              { value: 'resolved', title: 'resolved (y⁺ 1)' },
              { value: 'coarse', title: 'coarse (y⁺ 50)' },
            ]"
            @update:model-value="theCase.edit('grid.layers', (d) => (d.grid.layers = $event as 'resolved' | 'coarse'))"
          />
        </template>
        <span class="label">Cells</span>
        <span data-test="cell-count"
          ><b>{{ cells?.toLocaleString('en') ?? '…' }}</b>
          <span v-if="count && !imported" class="muted">in {{ count.columns }} columns and {{ count.rows }} rows</span
          ><span v-else-if="!imported && !wantedCells" class="muted">fitted to the outlines</span></span
        >
      </div>
      <p v-if="reading.gridError || fileError" class="fault" role="alert">{{ fileError || reading.gridError }}</p>
      <LocalFineness v-if="!imported" />
      <v-btn
        v-if="!imported"
        v-tip="'the case on three to six grids: what each quantity points to, and which grid is good enough'"
        size="small"
        data-test="open-study"
        @click="studying = true"
        >grid study…</v-btn
      >
      <GridStudyDialog v-model="studying" />
    </div>
    <div v-if="reading.grid" class="scroll">
      <v-table class="dense">
        <thead>
          <tr>
            <th>Largest</th>
            <th>value</th>
            <th>at</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in measures" :key="m.name">
            <td>{{ m.label }}</td>
            <td class="number">
              <b>{{ m.text }}</b>
            </td>
            <td class="number">
              <v-btn
                variant="text"
                size="small"
                :class="{ on: reading.shownWorst === m.name }"
                :aria-pressed="reading.shownWorst === m.name"
                @click="reading.shownWorst = m.name"
                >show</v-btn
              >
            </td>
          </tr>
        </tbody>
      </v-table>
      <ol class="small worst">
        <li v-for="w in worst" :key="`${w.x} ${w.y}`">
          <b>{{ plain(w.value, 3) }}{{ measures.find((m) => m.name === w.measure)?.unit }}</b>
          <span class="muted">at {{ units.withUnit(w.x, 'length', 4) }}, {{ units.withUnit(w.y, 'length', 4) }}</span>
        </li>
      </ol>
      <p class="muted small">
        Twice the fineness halves every cell: four times the cells, a quarter of the error. Slender cells along a passage are good
        ones.
      </p>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1.35fr) minmax(0, 1fr);
  gap: 14px;
  min-height: 0;
  flex: 1;
}
.short {
  width: 66px;
}
.worst {
  margin: 4px 0;
  padding-left: 20px;
}
input[type='range'] {
  accent-color: var(--heat);
  min-width: 40px;
}
p {
  margin: 4px 0;
}
</style>
