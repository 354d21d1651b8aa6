<script setup lang="ts">
import { computed, ref } from 'vue'

import Plot, { type Series } from '../../desk/Plot.vue'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'

/** Each fan on its curve, with what the system takes at other flows: where both meet, as solved and by hand. */
const theCase = useCase()
const units = useUnits()
const fans = computed(() => (theCase.sketch?.parts ?? []).filter((part) => part.internal?.kind === 'fan'))
const chosen = ref('')
const fan = computed(() => fans.value.find((part) => part.name === chosen.value) ?? fans.value[0])

const rowOf = (quantity: string) => theCase.ledger.find((row) => row.key.quantity === quantity && row.key.place === fan.value?.name)
const point = (read: (row: ReturnType<typeof rowOf>) => number | null | undefined): [number, number] | null => {
  const [flow, rise] = [read(rowOf('flow_through')), read(rowOf('rise_in'))]
  return flow == null || rise == null ? null : [flow, rise]
}
const solved = computed(() => point((row) => row?.solved))
const byHand = computed(() => point((row) => row?.by_hand?.value))
const shown = ([flow, rise]: [number, number]): [number, number] => [
  units.shown(flow, 'volume_flow'),
  units.shown(rise, 'pressure'),
]

const STEPS = 40
/** What the system takes at other flows: as their square through the point that was found. */
const system = computed<[number, number][]>(() => {
  const at = solved.value ?? byHand.value
  const curve = fan.value?.internal?.curve ?? []
  const end = curve.at(-1)?.[0] ?? 0
  if (!at || at[0] <= 0) return []
  return Array.from({ length: STEPS + 1 }, (_, k): [number, number] => {
    const flow = (k / STEPS) * Math.max(end, 1.1 * at[0])
    return [flow, at[1] * (flow / at[0]) ** 2]
  })
})
const series = computed<Series[]>(() => {
  const curve = (fan.value?.internal?.curve ?? []).map((p) => shown([p[0]!, p[1]!]))
  const top = Math.max(...curve.map((p) => p[1]), 0)
  const found: Series[] = [{ name: `curve of ${fan.value?.name}`, points: curve, colour: 0 }]
  const taken = system.value.map(shown).filter((p) => p[1] <= 1.05 * top)
  if (taken.length) found.push({ name: 'system', points: taken, dashed: true, colour: 6 })
  if (byHand.value) found.push({ name: 'by hand', points: [shown(byHand.value)], marks: true, line: false, colour: 4 })
  if (solved.value) found.push({ name: 'solved', points: [shown(solved.value)], marks: true, line: false, colour: 1 })
  return found
})
/** What is told of a fan, in few words: its name stands above. */
const WORDS = { flow_through: 'flow', rise_in: 'rise of pressure', shaft_power: 'shaft power', share_of_end: 'of its curve' }
const told = computed(() =>
  Object.entries(WORDS).flatMap(([quantity, words]) => {
    const row = rowOf(quantity)
    return row ? [{ row, words }] : []
  }),
)
const text = (value: number | null | undefined, kind: string) => (value == null ? '–' : units.withUnit(value, kind, 4))
</script>

<template>
  <div v-if="fan" class="fans" data-test="fans">
    <v-select
      v-if="fans.length > 1"
      aria-label="which fan"
      data-test="which-fan"
      :model-value="fan.name"
      :items="fans.map((part) => part.name)"
      @update:model-value="chosen = $event"
    />
    <div class="beside">
      <Plot
        class="plot"
        :series="series"
        :x="`flow, ${units.label('volume_flow')}`"
        :y="`pressure rise, ${units.label('pressure')}`"
        :name="`${fan.name} on its curve`"
      />
      <v-table class="dense small">
        <thead>
          <tr>
            <th>{{ fan.name }}</th>
            <th class="number">by hand</th>
            <th class="number">solved</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ row, words } in told" :key="words">
            <td>{{ words }}</td>
            <td class="number">{{ text(row.by_hand?.value, row.kind) }}</td>
            <td class="number">{{ text(row.solved, row.kind) }}</td>
          </tr>
        </tbody>
      </v-table>
    </div>
  </div>
</template>

<style scoped>
.fans {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.beside {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: flex-start;
}
.plot {
  flex: 3 1 300px;
  min-width: 0;
  height: 230px;
}
.beside > .v-table {
  flex: 1 1 130px;
}
</style>
