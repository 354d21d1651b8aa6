<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, take, type Schemas } from '../../api/client'
import { useUnits } from '../../quantity/units'
import { useCase } from '../../stores/case'
import { nameOf, type ChosenWish } from '../../stores/sizing'

/** What is chosen from rows: sizes of standard tubes for one to three lengths, materials of a part, or values of one's own. */
const props = defineProps<{ begun?: ChosenWish }>()
const emit = defineEmits<{ close: []; take: [varied: ChosenWish['varied']] }>()
const theCase = useCase()
const units = useUnits()
const tables = shallowRef<Schemas['TubeTableOut'][]>([])
onMounted(async () => (tables.value = await take(api.GET('/api/tubes'))))

type From = 'tubes' | 'materials' | 'own'
const begunMaterial = props.begun?.varied.find((one) => one.material_of)
const from = ref<From>(begunMaterial ? 'materials' : props.begun ? 'own' : 'tubes')
const FROM = [
  { value: 'tubes', title: 'standard tubes' },
  { value: 'materials', title: 'materials' },
  { value: 'own', title: 'values of my own' },
]
const lengths = computed(() =>
  Object.entries(theCase.document?.inputs ?? {})
    .filter(([, item]) => item.kind === 'length')
    .map(([name, item]) => ({ value: name, title: item.label || name })),
)

// Tubes: which column goes into which input.
const table = ref('')
const COLUMNS = [
  { key: 'outside', title: 'outside diameter' },
  { key: 'inside', title: 'inside diameter' },
  { key: 'wall', title: 'wall thickness' },
] as const
const into = ref<Record<string, string>>({ outside: '', inside: '', wall: '' })
const half = ref<Record<string, boolean>>({ outside: false, inside: false })
const sizes = computed(() => tables.value.find((one) => one.key === (table.value || tables.value[0]?.key))?.sizes ?? [])
const first = ref(0)
const last = ref(Infinity)
const taken = computed(() => sizes.value.slice(first.value, Math.min(last.value, sizes.value.length - 1) + 1))
const ends = computed(() => sizes.value.map((size, i) => ({ value: i, title: size.label })))
const mm = (value: number) => String(Number((value * 1000).toPrecision(6)))
const fromTubes = computed<ChosenWish['varied']>(() =>
  COLUMNS.filter((column) => into.value[column.key]).map((column) => ({
    input: into.value[column.key]!,
    material_of: '',
    values: `${taken.value.map((size) => mm(size[column.key] * (half.value[column.key] ? 0.5 : 1))).join(', ')} mm`,
  })),
)

// Materials of a part.
const solids = computed(() => (theCase.document?.section.parts ?? []).filter((part) => part.material !== 'void'))
const part = ref(begunMaterial?.material_of ?? '')
const stateOf = (key: string) => (units.catalogue?.materials ?? []).find((one) => one.key === key)?.state ?? 'solid'
const materials = ref<string[]>(begunMaterial?.values?.split(',').map((text) => text.trim()) ?? [])
const offeredMaterials = computed(() => {
  const now = solids.value.find((one) => one.name === part.value)?.material ?? ''
  const state = stateOf(theCase.document?.materials?.[now]?.base ?? now)
  return (units.catalogue?.materials ?? [])
    .filter((one) => one.state === state)
    .map((one) => ({ value: one.key, title: one.label }))
})

// Values of one's own.
const own = ref<{ name: string; values: string }[]>(
  props.begun && !begunMaterial
    ? props.begun.varied.map((one) => ({ name: nameOf(one), values: one.values ?? '' }))
    : [{ name: '', values: '' }],
)
const inputs = computed(() =>
  Object.entries(theCase.document?.inputs ?? {}).map(([name, item]) => ({ value: name, title: item.label || name })),
)
const ready = computed<ChosenWish['varied']>(() => {
  if (from.value === 'tubes') return taken.value.length > 1 ? fromTubes.value : []
  if (from.value === 'materials')
    return part.value && materials.value.length > 1
      ? [{ input: '', material_of: part.value, values: materials.value.join(', ') }]
      : []
  return own.value
    .filter((one) => one.name && one.values.trim())
    .map((one) => ({ input: one.name, material_of: '', values: one.values }))
})
</script>

<template>
  <v-dialog :model-value="true" max-width="560" @update:model-value="emit('close')">
    <v-card class="choose" data-test="choose-rows-dialog">
      <h2 class="pad-title">Choose from a table</h2>
      <v-select v-model="from" :items="FROM" aria-label="from what" data-test="rows-from" />
      <template v-if="from === 'tubes'">
        <v-select
          :model-value="table || tables[0]?.key"
          :items="tables.map((one) => ({ value: one.key, title: one.label }))"
          aria-label="standard"
          data-test="tube-table"
          @update:model-value="table = $event"
        />
        <div v-for="column in COLUMNS" :key="column.key" class="into">
          <v-label :for="`tube-${column.key}`">{{ column.title }} goes into</v-label>
          <v-select
            :id="`tube-${column.key}`"
            v-model="into[column.key]"
            :items="[{ value: '', title: '–' }, ...lengths]"
            :data-test="`tube-${column.key}`"
          />
          <v-checkbox
            v-if="column.key !== 'wall'"
            v-model="half[column.key]"
            label="half of it"
            density="compact"
            hide-details
            :aria-label="`half of the ${column.title}`"
          />
        </div>
        <div class="into">
          <v-label for="tube-first">sizes from</v-label>
          <v-select id="tube-first" v-model="first" :items="ends" />
          <v-select
            :model-value="Math.min(last, sizes.length - 1)"
            :items="ends"
            aria-label="to size"
            @update:model-value="last = $event"
          />
        </div>
        <p class="muted small">{{ tables.find((one) => one.key === (table || tables[0]?.key))?.source }}</p>
      </template>
      <template v-else-if="from === 'materials'">
        <v-select v-model="part" :items="solids.map((one) => one.name)" label="part" data-test="rows-part" />
        <v-select v-model="materials" multiple :items="offeredMaterials" label="materials" data-test="rows-materials" />
      </template>
      <template v-else>
        <div v-for="(one, i) in own" :key="i" class="own">
          <v-select v-model="one.name" :items="inputs" :aria-label="`input ${i + 1}`" />
          <v-text-field v-model="one.values" placeholder="16, 20, 26 mm" :aria-label="`values of input ${i + 1}`" />
        </div>
        <v-btn v-if="own.length < 4" variant="text" size="small" @click="own.push({ name: '', values: '' })"
          >an input that goes with it, row by row</v-btn
        >
      </template>
      <div class="row">
        <v-btn color="primary" variant="flat" :disabled="!ready.length" data-test="take-rows" @click="emit('take', ready)"
          >Choose from these</v-btn
        >
        <v-btn @click="emit('close')">Close</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.choose {
  padding: 18px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.into {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr) minmax(0, 120px);
  gap: 6px;
  align-items: center;
}
.own {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 6px;
}
</style>
