<script setup lang="ts">
import { useFileDialog } from '@vueuse/core'
import { computed, ref } from 'vue'

import { ApiError, upload, type Schemas } from '../../api/client'
import { useCase } from '../../stores/case'

/** Tables of values over a position, from CSV files: functions that conditions can use by name. */
const theCase = useCase()
const files = useFileDialog({ accept: '.csv,.txt,.dat', multiple: false, reset: true })
files.onChange((chosen) => void read(chosen?.[0]))
const error = ref('')
const unit = ref('mm')
const valueUnit = ref('degC')
const tables = computed(() => Object.entries(theCase.document?.tables ?? {}))
const UNITS = ['degC', 'K', 'W/m^2', 'kW/m^2', 'W/m^2/K', '']

async function read(chosen: File | undefined): Promise<void> {
  if (!chosen) return
  error.value = ''
  try {
    const table = await upload<Schemas['Table']>('/api/import/table', chosen, { unit: unit.value, value_unit: valueUnit.value })
    const plain =
      chosen.name
        .replace(/\.\w+$/, '')
        .replaceAll(/\W+/g, '_')
        .replace(/^(\d)/, 't_$1') || 'table'
    theCase.edit('tables.add', (d) => {
      let name = plain
      for (let number = 2; d.tables[name] || d.inputs[name]; number++) name = `${plain}_${number}`
      d.tables[name] = table
    })
  } catch (problem) {
    error.value = problem instanceof ApiError ? problem.message : String(problem)
  }
}

function remove(name: string): void {
  theCase.edit('tables.remove', (d) => {
    d.tables = Object.fromEntries(Object.entries(d.tables).filter(([key]) => key !== name))
  })
}
</script>

<template>
  <div class="tables small">
    <div v-for="[name, table] in tables" :key="name" class="row">
      <b>{{ name }}(x)</b>
      <span class="muted"
        >{{ table.rows.length }} rows, {{ table.rows[0]![0] }} to {{ table.rows.at(-1)![0] }} {{ table.unit }}, in
        {{ table.value_unit || 'plain numbers' }}</span
      >
      <v-btn variant="text" size="small" :aria-label="`remove the table ${name}`" @click="remove(name)">×</v-btn>
    </div>
    <div class="row">
      <v-btn variant="text" size="small" @click="files.open()">table from a CSV file…</v-btn>
      <span class="muted">place in</span>
      <v-select
        v-model="unit"
        aria-label="unit of the place"
        :items="['mm', 'cm', 'm', 'in'].map((u) => ({ value: u, title: u }))"
      />
      <span class="muted">values in</span>
      <v-select
        v-model="valueUnit"
        aria-label="unit of the values"
        :items="UNITS.map((u) => ({ value: u, title: u.replace('deg', '°') || 'numbers' }))"
      />
    </div>
    <p v-if="error" class="fault" role="alert">{{ error }}</p>
  </div>
</template>

<style scoped>
.tables {
  margin-top: 4px;
}
.tables .row {
  flex-wrap: wrap;
  gap: 2px 6px;
  white-space: nowrap;
}
.tables .pad-select {
  padding: 0;
}
p {
  margin: 2px 0;
}
</style>
