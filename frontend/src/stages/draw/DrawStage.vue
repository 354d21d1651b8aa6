<script setup lang="ts">
import { useFileDialog } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'

import PadMenu from '../../pad/PadMenu.vue'
import { ApiError, upload, type Schemas } from '../../api/client'
import { placeInWords } from '../../quantity/places'
import TextField from '../../quantity/TextField.vue'
import { addPart } from '../../sketch/place'
import { useCase } from '../../stores/case'
import { SHAPES, useDrawing, type ShapeType } from '../../stores/drawing'
import PartForm from './PartForm.vue'
import PartList from './PartList.vue'

/** Draw: add parts by drawing or from a file, type exact numbers, and see what is wrong with the drawing. */
const theCase = useCase()
const drawing = useDrawing()
const FILE_UNITS = ['mm', 'cm', 'm', 'in']
const fileUnit = ref('mm')
const fileError = ref('')
const elsewhere = computed(() => theCase.problems.filter((p) => /^(section|materials|case|tables)/.test(p.field)))
const count = computed(() => theCase.document?.section.parts.length ?? 0)
const hints: Record<string, string> = {
  rectangle: 'drag from corner to corner',
  circle: 'drag from the centre outwards',
  ring: 'drag from the centre outwards',
  polygon: 'click the corners; Enter or the first corner closes it',
  curve: 'click points on it; Enter or the first point closes it',
  blade: 'drag from nose to tail',
}

const offers = [
  ...SHAPES.map((s) => ({ value: s, title: `draw a ${s}` })),
  { title: 'outline from a file: CSV, DXF, SVG' },
  ...FILE_UNITS.map((u) => ({ value: `file ${u}`, title: `file in ${u}…` })),
]
const files = useFileDialog({ accept: '.csv,.txt,.dat,.dxf,.svg', multiple: false, reset: true })
files.onChange((chosen) => void read(chosen?.[0]))

function begin(chosen: string): void {
  fileError.value = ''
  if (chosen.startsWith('file ')) {
    fileUnit.value = chosen.slice(5)
    files.open()
  } else drawing.tool = chosen as ShapeType | ''
}

async function read(chosen: File | undefined): Promise<void> {
  if (!chosen) return
  try {
    const made = await upload<Schemas['OutlineOut']>('/api/import/outline', chosen, { unit: fileUnit.value })
    const name =
      chosen.name
        .replace(/\.\w+$/, '')
        .replaceAll(/[|,]/g, ' ')
        .slice(0, 40) || 'outline'
    theCase.edit('section.parts.add', (d) => (drawing.part = addPart(d, made.shape, '', name)))
  } catch (error) {
    fileError.value = error instanceof ApiError ? error.message : String(error)
  }
}

/** After a part was placed its first size waits to be typed. */
watch(count, async (now, before) => {
  if (now <= before) return
  await nextTick()
  const sizes = document.querySelectorAll<HTMLInputElement>('[data-form=draw] [data-path*=".shape."] input')
  ;(sizes[2] ?? sizes[0])?.select()
})
watch(count, (now) => {
  if (drawing.part >= now) drawing.part = Math.max(0, now - 1)
})
</script>

<template>
  <h2>
    <span v-tip="'later parts are painted over earlier ones'">Parts</span>
    <span class="grow"></span>
    <span v-if="drawing.tool" class="heat small" role="status"
      >{{ drawing.tool }}: {{ hints[drawing.tool] }}; Enter puts one in the middle, Esc gives up</span
    >
    <PadMenu v-else label="add a part" data-test="add-part" :items="offers" @choose="begin" />
  </h2>
  <div class="columns">
    <PartList />
    <PartForm />
  </div>
  <ul v-if="elsewhere.length || fileError" class="problems" role="alert">
    <li v-if="fileError" class="fault">{{ fileError }}</li>
    <li v-for="p in elsewhere" :key="p.field + p.problem" class="fault">
      <b>{{ placeInWords(p.field, theCase.document) }}</b>: {{ p.problem }}; {{ p.remedy }}
    </li>
  </ul>
  <div class="row foot small">
    <v-label id="extent-label" for="extent" class="muted">extent</v-label>
    <v-select
      id="extent"
      :model-value="theCase.document?.section.extent"
      :items="[
        { value: 'flat', title: 'flat, with a depth' },
        { value: 'axisymmetric', title: 'axisymmetric about y = 0' },
      ]"
      @update:model-value="theCase.setText('section.extent', $event)"
    />
    <template v-if="theCase.document?.section.extent === 'flat'">
      <span class="muted">depth</span>
      <TextField class="short" path="section.depth" :value="theCase.document.section.depth" aria-label="depth" />
    </template>
    <span class="grow"></span>
    <v-label id="step-label" for="step" class="muted">snap to</v-label>
    <v-select
      id="step"
      v-model="drawing.step"
      :items="[
        { value: 0, title: 'a round step' },
        { value: 1e-4, title: '0.1 mm' },
        { value: 5e-4, title: '0.5 mm' },
        { value: 1e-3, title: '1 mm' },
        { value: 5e-3, title: '5 mm' },
        { value: 1e-2, title: '10 mm' },
      ]"
    />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 132px minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
  flex: 1;
}
.foot {
  padding-top: 3px;
  border-top: 1px solid var(--hair);
  gap: 5px;
  white-space: nowrap;
}
.foot .pad-select {
  padding: 0;
  max-width: 128px;
}
.short {
  width: 66px;
}
.add {
  font-size: var(--size-small);
  font-family: var(--font-text);
  max-width: 190px;
  padding: 0 2px;
}
.problems {
  margin: 2px 0;
  padding-left: 16px;
  max-height: 62px;
  overflow: auto;
}
</style>
