<script setup lang="ts">
import { ref, watch } from 'vue'

import { api, take, type Schemas } from '../api/client'
import { useNotices } from '../pad/notices'
import { useCase } from '../stores/case'

/** Earlier saves of the case; taking one back is an edit like any other and can be undone. */
const open = defineModel<boolean>({ required: true })
const theCase = useCase()
const notices = useNotices()
const lines = ref<Schemas['RevisionOut'][]>([])
const error = ref('')

watch(open, async (now) => {
  if (!now) return
  error.value = ''
  try {
    lines.value = await take(api.GET('/api/cases/{case}/revisions', { params: { path: { case: theCase.id } } }))
  } catch (problem) {
    error.value = problem instanceof Error ? problem.message : String(problem)
  }
})

async function takeBack(number: number): Promise<void> {
  try {
    const params = { path: { case: theCase.id, number } }
    const former = await take(api.GET('/api/cases/{case}/revisions/{number}', { params }))
    if (!theCase.document) {
      // A case that cannot be read is put back as it was at that save.
      const id = { case: theCase.id }
      const { revision } = await take(api.GET('/api/cases/{case}/state', { params: { path: id } }))
      await take(api.PUT('/api/cases/{case}', { params: { path: id }, body: { revision, document: former } }))
      open.value = false
      await theCase.open(theCase.id)
      return
    }
    theCase.edit(`revision ${number}`, (draft) => Object.assign(draft, former))
    open.value = false
    notices.say(`the case is as it was at save ${number}`, theCase.undo)
  } catch (problem) {
    error.value = problem instanceof Error ? problem.message : String(problem)
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="640">
    <v-card class="earlier" data-test="revisions">
      <h2 class="pad-title">Earlier saves</h2>
      <p v-if="error" class="fault" role="alert">{{ error }}</p>
      <ul class="scroll">
        <li v-for="line in lines" :key="line.number" class="row">
          <span>{{ line.number }}</span>
          <span class="muted small when">{{ new Date(line.saved).toLocaleString() }}</span>
          <span v-tip="line.what" class="grow what">{{ line.what || (line.number === 1 ? 'as it was begun' : '') }}</span>
          <span v-if="theCase.document && line.number === theCase.revision" class="muted small">as it stands</span>
          <v-btn v-else size="small" @click="takeBack(line.number)">take back</v-btn>
        </li>
      </ul>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.earlier {
  padding: 18px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.when {
  min-width: 140px;
}
.what {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 360px;
}
li {
  border-top: 1px solid var(--hair);
  padding: 2px 0;
  min-height: 26px;
}
</style>
