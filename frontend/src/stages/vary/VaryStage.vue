<script setup lang="ts">
import { useFileDialog } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'

import ConfirmDialog from '../../pad/ConfirmDialog.vue'
import QuantityField from '../../quantity/QuantityField.vue'
import { ApiError, upload } from '../../api/client'
import { plain } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { useSeries, type Varied } from '../../stores/series'

/** What is varied, by which values and how; by hand at once, solved point by point when it is asked for. */
const theCase = useCase()
const series = useSeries()
onMounted(() => (series.open = true))
onBeforeUnmount(() => (series.open = false))

const MOST = 6
const varied = computed<Varied[]>(() => series.wish.varied ?? [])
const targets = computed(() => [
  ...Object.entries(theCase.document?.inputs ?? {}).map(([name, item]) => ({ value: name, title: item.label || name })),
  ...(theCase.document?.section.parts ?? [])
    .filter((part) => part.material !== 'void')
    .map((part) => ({ value: `material of ${part.name}`, title: `material of ${part.name}` })),
])
const nameOf = (one: Varied) => one.input || `material of ${one.material_of}`
const free = (own = '') => targets.value.filter((t) => t.value === own || !varied.value.some((one) => nameOf(one) === t.value))
const set = (one: Varied, name: string) => {
  const material = name.startsWith('material of ')
  one.input = material ? '' : name
  one.material_of = material ? name.slice('material of '.length) : ''
}

/** Values to begin with: five between the input's bounds, or around what it is. */
function suggested(name: string): string {
  const item = theCase.document?.inputs[name]
  if (!item) return theCase.document?.section.parts.find((p) => `material of ${p.name}` === name)?.material ?? ''
  if (item.lower && item.upper) return `${item.lower}..${item.upper} : 5`
  return item.value
}
function add(): void {
  const first = free()[0]
  if (!first) return
  const sized = theCase.document?.sizing?.chosen?.[0]?.varied[0]?.input
  const name = !varied.value.length && sized && free().some((t) => t.value === sized) ? sized : first.value
  series.edit(`add ${Date.now()}`, (w) => {
    const one: Varied = { input: '', material_of: '', values: suggested(name) }
    set(one, name)
    w.varied = [...(w.varied ?? []), one]
  })
}
const choose = (i: number, name: string) =>
  series.edit(`choose ${Date.now()}`, (w) => {
    set(w.varied![i]!, name)
    w.varied![i]!.values = suggested(name)
  })
const problemOf = (i: number) => series.problems.find((p) => p.field.startsWith(`series.varied[${i}]`))
const others = computed(() => series.problems.filter((p) => !/^series\.varied\[\d/.test(p.field)))

const count = computed(() => series.hand?.points.length ?? 0)
const seconds = computed(() => {
  const each = series.hand?.seconds
  if (!each || !count.value) return ''
  const all = (each * count.value) / Math.min(series.hand?.at_once ?? 1, count.value)
  return all < 90 ? `about ${plain(all, 2)} s` : `about ${plain(all / 60, 2)} min`
})
const now = computed(() => series.stored)
/** Points are added to a series of the same inputs alone. */
const sameInputs = computed(() => {
  const names = (of: typeof series.stored) => (of?.varied ?? []).map((one) => one.name).join()
  return names(now.value) === names(series.hand)
})
const states = computed(() => {
  const points = now.value?.points ?? []
  const solved = points.filter((p) => p.state === 'done').length
  const failed = points.filter((p) => p.state === 'failed').length
  return { points: points.length, solved, failed }
})
const stored = computed(() => [
  { value: 0, title: 'by hand, as the case stands' },
  ...series.list.map((one) => ({ value: one.id, title: `${one.name}: ${one.solved} of ${one.points} solved` })),
])

// A table goes row by row.
const files = useFileDialog({ accept: '.csv,.txt,.tsv,.xlsx', multiple: false, reset: true })
const fileProblem = ref('')
files.onChange((chosen) => void fromFile(chosen?.[0]))
async function fromFile(file: File | undefined): Promise<void> {
  if (!file) return
  fileProblem.value = ''
  try {
    const varied = await upload<Varied[]>(`/api/cases/${theCase.id}/import/points`, file)
    series.edit(`table ${Date.now()}`, (w) => Object.assign(w, { how: 'paired', varied }))
    pasting.value = false
  } catch (problem) {
    fileProblem.value = problem instanceof ApiError ? problem.message : String(problem)
  }
}
const pasting = ref(false)
const pasted = ref('')
const takePasted = () => fromFile(new File([pasted.value], 'what was pasted', { type: 'text/plain' }))
const removing = ref(false)
const HOW = [
  { value: 'all', title: 'all combinations' },
  { value: 'paired', title: 'row by row' },
  { value: 'hypercube', title: 'spread evenly' },
]
</script>

<template>
  <h2>
    Vary
    <v-select
      class="how"
      :model-value="series.wish.how"
      :items="HOW"
      aria-label="how values go together"
      data-test="series-how"
      @update:model-value="series.edit('how', (w) => (w.how = $event))"
    />
    <span class="grow"></span>
    <v-btn
      color="primary"
      variant="flat"
      data-test="solve-series"
      :disabled="!count || series.problems.length > 0 || theCase.problems.length > 0"
      @click="series.begin()"
      >Solve {{ count || '' }}</v-btn
    >
  </h2>
  <div class="scroll">
    <div v-for="(one, i) in varied" :key="i" class="varied">
      <v-select
        :model-value="nameOf(one)"
        :items="free(nameOf(one))"
        :aria-label="`what is varied, ${i + 1}`"
        :data-test="`varied-${i}`"
        @update:model-value="choose(i, $event)"
      />
      <QuantityField
        :value="one.values"
        :problem="problemOf(i)"
        live
        placeholder="300, 500, 800 W or 1..3 m/s : 5"
        :aria-label="`values of ${nameOf(one)}`"
        :data-test="`values-${i}`"
        @enter="series.edit(`values ${i}`, (w) => (w.varied![i]!.values = $event))"
      />
      <v-btn
        variant="text"
        size="small"
        :aria-label="`vary ${nameOf(one)} no more`"
        @click="series.edit(`remove ${Date.now()}`, (w) => w.varied!.splice(i, 1))"
        >×</v-btn
      >
    </div>
    <div class="row wrap">
      <v-btn v-if="varied.length < MOST" variant="text" size="small" data-test="vary-more" @click="add">{{
        varied.length ? 'vary another' : 'vary an input'
      }}</v-btn>
      <v-btn variant="text" size="small" @click="files.open()">table from a file…</v-btn>
      <v-btn variant="text" size="small" data-test="paste" @click="pasting = !pasting">paste a table</v-btn>
      <v-checkbox
        v-if="varied.length && theCase.document?.physics.regime === 'steady'"
        v-tip="'solves each point on two coarser grids besides'"
        :model-value="series.wish.grid_check"
        label="with grid ±"
        density="compact"
        hide-details
        data-test="series-grid-check"
        @update:model-value="series.edit('grid_check', (w) => (w.grid_check = Boolean($event)))"
      />
      <template v-if="series.wish.how === 'hypercube'">
        <v-label for="series-count">points</v-label>
        <v-text-field
          id="series-count"
          class="count"
          type="number"
          min="2"
          max="10000"
          :model-value="series.wish.count"
          @change="series.edit('count', (w) => (w.count = Math.min(10000, Math.max(2, Number($event.target.value) || 20))))"
        />
      </template>
    </div>
    <template v-if="pasting">
      <v-textarea
        v-model="pasted"
        rows="4"
        aria-label="table"
        data-test="pasted"
        placeholder="headings: names of inputs, with units in brackets; then a row for each point, as copied from a sheet"
      />
      <v-btn size="small" :disabled="!pasted.trim()" data-test="take-pasted" @click="takePasted">take it, row by row</v-btn>
    </template>
    <p v-if="fileProblem" class="fault" role="alert">{{ fileProblem }}</p>
    <p v-for="p in others" :key="p.problem" class="fault" role="alert">{{ p.problem }}; {{ p.remedy }}</p>
    <p v-if="!varied.length" class="muted">
      Values stand between commas (300, 500, 800 W) or as a range: 1..3 m/s : 5 for five of them, 1..3 m/s by 0.5, 1..100 W : 7 log.
      Materials by their keys.
    </p>
    <p v-else-if="count" class="muted small" data-test="series-count">
      {{ count.toLocaleString('en') }} point{{ count > 1 ? 's' : '' }} by hand{{ seconds ? `; solved in ${seconds}` : '' }}.
      <v-btn
        v-if="series.hand && !series.hand.quantities.length && !series.pending"
        variant="text"
        size="small"
        data-test="reckon"
        @click="series.reckon(true)"
        >reckon them by hand</v-btn
      >
      <span v-if="series.pending">reckoning…</span>
    </p>
    <template v-if="series.list.length">
      <div class="row wrap shown">
        <v-label for="series-shown">shown</v-label>
        <v-select id="series-shown" v-model="series.chosen" class="grow" :items="stored" data-test="series-shown" />
      </div>
      <template v-if="now">
        <v-progress-linear
          v-if="now.state !== 'done'"
          :model-value="(100 * states.solved) / Math.max(states.points, 1)"
          aria-label="points that are solved"
        />
        <div class="row wrap">
          <span class="small" data-test="series-state"
            >{{ states.solved }} of {{ states.points }} solved{{ states.failed ? `, ${states.failed} failed` : ''
            }}{{ now.state === 'held' ? ', held' : '' }}</span
          >
          <v-btn v-if="now.state === 'running'" size="small" variant="text" @click="series.act('hold')">hold</v-btn>
          <v-btn v-if="now.state === 'running'" size="small" variant="text" @click="series.act('stop')">stop</v-btn>
          <v-btn v-if="now.state === 'held'" size="small" variant="text" @click="series.act('go-on')">go on</v-btn>
          <v-btn v-if="states.failed" size="small" variant="text" @click="series.act('retry')">try the failed again</v-btn>
          <v-btn
            v-tip="'the points above that it has not yet'"
            size="small"
            variant="text"
            :disabled="!count || !sameInputs"
            @click="series.addPoints()"
            >add points</v-btn
          >
          <v-btn size="small" variant="text" :href="`/api/series/${now.id}/table.xlsx`" download>XLSX</v-btn>
          <v-btn size="small" variant="text" @click="removing = true">delete</v-btn>
        </div>
      </template>
    </template>
  </div>
  <ConfirmDialog
    v-model="removing"
    :title="`Delete the series '${now?.name ?? ''}'?`"
    text="Its points and what was solved for them go with it."
    action="Delete"
    @confirm="series.discard()"
  />
</template>

<style scoped>
.scroll {
  flex: 1;
  min-height: 0;
}
.varied {
  display: grid;
  grid-template-columns: minmax(110px, 2fr) minmax(140px, 3fr) max-content;
  gap: 2px 6px;
  align-items: start;
  margin-bottom: 2px;
}
.wrap {
  flex-wrap: wrap;
  gap: 2px 8px;
}
.how {
  max-width: 150px;
}
.count {
  max-width: 84px;
}
.shown {
  margin-top: 6px;
}
p {
  margin: 4px 0;
}
</style>
