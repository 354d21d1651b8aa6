<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { ApiError } from '../api/client'
import { useNotices } from '../pad/notices'
import { withDefaultUnit } from '../quantity/entry'
import { useUnits } from '../quantity/units'
import { useCase } from '../stores/case'

/** An input added, or one changed: its name, what it measures, its unit and bounds; or taken out, its value in its place. */
const name = defineModel<string | null>({ required: true })
const theCase = useCase()
const units = useUnits()
const notices = useNotices()
const blank = { name: '', label: '', kind: 'length', unit: '', value: '', lower: '', upper: '', note: '' }
const draft = ref({ ...blank })
const error = ref('')
const fresh = computed(() => name.value === '')
const kinds = computed(() => [...units.kinds.values()].map((kind) => ({ value: kind.name, title: kind.label })))
const kind = computed(() => units.kinds.get(draft.value.kind))
const shownIn = computed(() => [
  { value: '', title: `${kind.value?.units.find((u) => u.unit === kind.value?.unit)?.label || 'no unit'} (usual)` },
  ...(kind.value?.units ?? []).filter((u) => u.unit && u.unit !== kind.value?.unit).map((u) => ({ value: u.unit, title: u.label })),
])
const unit = computed(() => (draft.value.unit || kind.value?.unit || '').replace('deg', '°'))

watch(name, (now) => {
  error.value = ''
  if (now === null) return
  const item = theCase.document?.inputs[now]
  draft.value = item ? { ...blank, ...item, name: now } : { ...blank }
})

async function keep(): Promise<void> {
  const { name: called, ...item } = draft.value
  const plain = called.trim()
  if (!/^[A-Za-z_]\w*$/.test(plain)) {
    error.value = `'${plain}' cannot be a name; use letters, digits and _, beginning with a letter`
    return
  }
  if (plain !== name.value && theCase.document?.inputs[plain]) {
    error.value = `there is an input '${plain}' already; choose another name`
    return
  }
  try {
    if (!fresh.value && plain !== name.value) await theCase.reach('rename_input', name.value!, plain)
    for (const field of ['value', 'lower', 'upper'] as const) item[field] = withDefaultUnit(item[field], unit.value)
    theCase.edit(`inputs.${plain}.all`, (d) => (d.inputs[plain] = item))
    name.value = null
  } catch (problem) {
    error.value = problem instanceof ApiError ? problem.message : String(problem)
  }
}

async function remove(): Promise<void> {
  try {
    const gone = name.value!
    const also = await theCase.reach('remove_input', gone)
    notices.say(
      also.length ? `${gone} is taken out: its value stands in ${also.length} places now` : `${gone} is taken out`,
      theCase.undo,
    )
    name.value = null
  } catch (problem) {
    error.value = problem instanceof ApiError ? problem.message : String(problem)
  }
}
</script>

<template>
  <v-dialog :model-value="name !== null" max-width="520" aria-label="input" @update:model-value="name = $event ? name : null">
    <v-card class="input" data-test="input-dialog">
      <h2 class="pad-title">{{ fresh ? 'A new input' : `Input ${name}` }}</h2>
      <v-form class="form" @submit.prevent="keep">
        <v-label id="input-name-label" v-tip="'as expressions use it'" for="input-name">name</v-label>
        <v-text-field id="input-name" v-model="draft.name" :autofocus="fresh" maxlength="60" autocomplete="off" />
        <v-label id="input-label-label" for="input-label">called</v-label>
        <v-text-field id="input-label" v-model="draft.label" :placeholder="draft.name" maxlength="120" autocomplete="off" />
        <v-label id="input-kind-label" for="input-kind">measures</v-label>
        <v-select id="input-kind" v-model="draft.kind" :items="kinds" @update:model-value="draft.unit = ''" />
        <v-label id="input-unit-label" for="input-unit">shown in</v-label>
        <v-select id="input-unit" v-model="draft.unit" :items="shownIn" />
        <v-label id="input-value-label" for="input-value">value</v-label>
        <v-text-field id="input-value" v-model="draft.value" :placeholder="unit" maxlength="400" autocomplete="off" />
        <v-label id="input-lower-label" v-tip="'bounds that sizing may use'" for="input-lower">at least</v-label>
        <v-text-field
          id="input-lower"
          v-model="draft.lower"
          placeholder="a twentieth of its value"
          maxlength="400"
          autocomplete="off"
        />
        <v-label id="input-upper-label" for="input-upper">at most</v-label>
        <v-text-field
          id="input-upper"
          v-model="draft.upper"
          placeholder="twenty times its value"
          maxlength="400"
          autocomplete="off"
        />
        <v-label id="input-note-label" for="input-note">note</v-label>
        <v-text-field id="input-note" v-model="draft.note" maxlength="500" autocomplete="off" />
        <p v-if="error" class="fault wide" role="alert">{{ error }}</p>
        <div class="row wide">
          <v-btn v-if="!fresh" v-tip="'its value is written where it is used'" data-test="remove-input" @click="remove"
            >Take out</v-btn
          >
          <span class="grow"></span>
          <v-btn @click="name = null">Cancel</v-btn>
          <v-btn color="primary" variant="flat" type="submit" data-test="keep-input">{{ fresh ? 'Add' : 'Keep' }}</v-btn>
        </div>
      </v-form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.input {
  padding: 18px;
}
.form {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 12px;
  align-items: center;
}
.wide {
  grid-column: 1 / -1;
}
</style>
