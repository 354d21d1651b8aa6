<script setup lang="ts">
import { computed } from 'vue'

import PadMenu from '../../pad/PadMenu.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useLines } from '../../stores/lines'
import { useProbes } from '../../stores/probes'
import { useReading } from '../../stores/reading'
import ComfortForm from './ComfortForm.vue'

/** Points, boxes and parts of the case: what the field is there now, and over time. */
const theCase = useCase()
const reading = useReading()
const lines = useLines()
const probes = useProbes()
const units = useUnits()

const items = computed(() => [
  { title: 'a point on the drawing', value: 'point' },
  { title: 'a box on the drawing', value: 'box' },
  { title: 'A whole part' },
  ...(theCase.sketch?.parts ?? []).slice(0, 40).map((p) => ({ title: p.name, value: `part ${p.name}` })),
])

function choose(value: string): void {
  if (value === 'point' || value === 'box') lines.tool = value
  else probes.add({ type: 'part', part: value.slice(5) }, value.slice(5))
}

const kind = computed(() => reading.field?.kind ?? 'number')
const rows = computed(() =>
  probes.probes.map((probe) => {
    const found = probes.foundOf(probe.name)
    return { probe, problem: found?.problem ?? '', value: found?.fields.find((f) => f.name === reading.fieldName) ?? null }
  }),
)
const spread = (value: number) => Number(units.shownDifference(value, kind.value).toPrecision(3))
</script>

<template>
  <div class="probes">
    <div class="row">
      <PadMenu label="new probe" data-test="new-probe" :items="items" @choose="choose" />
      <span v-if="lines.tool === 'point'" class="heat small" role="status">click the drawing; Esc gives up</span>
      <span v-else-if="lines.tool === 'box'" class="heat small" role="status">drag a box on the drawing; Esc gives up</span>
      <span class="grow"></span>
      <v-checkbox
        v-if="reading.frames.length > 1 && rows.length"
        :model-value="probes.course !== ''"
        label="over time"
        data-test="probe-course"
        @update:model-value="probes.course = $event ? reading.fieldName : ''"
      />
    </div>
    <p v-if="!rows.length" class="muted">No probes yet: points, boxes or parts whose values are told for every run.</p>
    <v-table v-else class="dense">
      <thead>
        <tr>
          <th>{{ reading.fieldName }}</th>
          <th class="number">value, mean</th>
          <th class="number">lowest</th>
          <th class="number">highest</th>
          <th v-tip="'standard deviation'" class="number">±</th>
          <th v-tip="'1 - half the mean deviation over the mean: 1 where it is the same everywhere'" class="number">even</th>
          <td></td>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ probe, value, problem } in rows" :key="probe.name" :data-probe-row="probe.name">
          <td>
            <v-text-field
              :model-value="probe.name"
              :aria-label="`name of ${probe.name}`"
              @change="probes.rename(probe.name, ($event.target as HTMLInputElement).value)"
            />
          </td>
          <template v-if="value">
            <td class="number">
              <b>{{ units.withUnit(value.mean, kind, 5) }}</b>
            </td>
            <td class="number">{{ value.lowest < value.highest ? units.format(value.lowest, kind, 4) : '' }}</td>
            <td class="number">{{ value.lowest < value.highest ? units.format(value.highest, kind, 4) : '' }}</td>
            <td class="number">{{ value.deviation ? spread(value.deviation) : '' }}</td>
            <td class="number">{{ value.uniformity === null ? '' : value.uniformity.toFixed(3) }}</td>
          </template>
          <td v-else colspan="5" :class="problem ? 'fault' : 'muted'">
            {{ problem || (probes.found.length ? 'none here' : '…') }}
          </td>
          <td>
            <v-btn variant="text" size="small" :aria-label="`take out ${probe.name}`" @click="probes.remove(probe.name)">×</v-btn>
          </td>
        </tr>
      </tbody>
    </v-table>
    <p v-if="probes.problem" class="fault" role="alert">{{ probes.problem }}</p>
    <ComfortForm />
  </div>
</template>

<style scoped>
.probes {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
p {
  margin: 4px 0 8px;
}
</style>
