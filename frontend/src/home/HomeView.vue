<script setup lang="ts">
import { useFileDialog } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, take, upload, type CaseDocument, type Schemas } from '../api/client'
import ConfirmDialog from '../pad/ConfirmDialog.vue'
import { useNotices } from '../pad/notices'
import { useUnits } from '../quantity/units'
import { useTheme } from '../stores/theme'
import AccountMenu from './AccountMenu.vue'
import CaseCard from './CaseCard.vue'
import FirstSteps from './FirstSteps.vue'
import StarterList from './StarterList.vue'

/** Begin a case from a starter, and the cases of a project as small sketches with their key answers. */
const FIRST = 'plate_passage'
const router = useRouter()
const units = useUnits()
const theme = useTheme()
const notices = useNotices()
const projects = ref<Schemas['ProjectOut'][]>([])
const project = ref<number | null>(null)
const cards = ref<Schemas['CaseCardOut'][] | null>(null)
const deleted = ref<Schemas['DeletedCaseOut'][]>([])
const loading = ref(true)
const error = ref('')
const newName = ref('')
const going = ref<Schemas['CaseCardOut'] | null>(null)
const files = useFileDialog({ accept: '.json,.zip', multiple: false, reset: true })
files.onChange((chosen) => void openFile(chosen?.[0]))

async function load(): Promise<void> {
  try {
    const [found] = await Promise.all([take(api.GET('/api/projects')), units.load()])
    projects.value = found
    project.value ??= projects.value[0]?.id ?? null
  } catch (problem) {
    error.value = message(problem)
  } finally {
    loading.value = false
  }
}

async function loadCards(): Promise<void> {
  if (project.value === null) return
  try {
    const params = { path: { project: project.value } }
    const [there, gone] = await Promise.all([
      take(api.GET('/api/projects/{project}/cases', { params })),
      take(api.GET('/api/projects/{project}/deleted', { params })),
    ])
    cards.value = there
    deleted.value = gone
  } catch (problem) {
    error.value = message(problem)
  }
}

async function addCase(body: Schemas['NewCaseBody'], stage = 'draw'): Promise<void> {
  if (project.value === null) return
  error.value = ''
  try {
    const made = await take(api.POST('/api/projects/{project}/cases', { params: { path: { project: project.value } }, body }))
    await router.push(`/cases/${made.id}/${stage}`)
  } catch (problem) {
    error.value = message(problem)
  }
}

async function addProject(): Promise<void> {
  error.value = ''
  try {
    const made = await take(api.POST('/api/projects', { body: { name: newName.value, note: '' } }))
    projects.value = [...projects.value, made]
    project.value = made.id
    newName.value = ''
  } catch (problem) {
    error.value = message(problem)
  }
}

async function remove(card: Schemas['CaseCardOut']): Promise<void> {
  try {
    await take(api.DELETE('/api/cases/{case}', { params: { path: { case: card.id } } }))
    notices.say(`“${card.title}” is deleted`, () => bringBack(card.id))
    await loadCards()
  } catch (problem) {
    error.value = message(problem)
  }
}

async function bringBack(id: number): Promise<void> {
  try {
    await take(api.POST('/api/cases/{case}/bring-back', { params: { path: { case: id } } }))
    await loadCards()
  } catch (problem) {
    error.value = message(problem)
  }
}

async function openFile(chosen: File | undefined): Promise<void> {
  if (!chosen || project.value === null) return
  if (chosen.name.toLowerCase().endsWith('.zip')) {
    try {
      const made = await upload<{ id: number }>(`/api/projects/${project.value}/archive`, chosen)
      await router.push(`/cases/${made.id}/draw`)
    } catch (problem) {
      error.value = message(problem)
    }
    return
  }
  try {
    await addCase({ document: JSON.parse(await chosen.text()) as CaseDocument })
  } catch (problem) {
    error.value = `${chosen.name} is not a case document (${message(problem)})`
  }
}

/** Runs of the cases that are ticked to be compared, in the order they were ticked. */
const compared = ref<number[]>([])
const MOST = 6
/** One report of the cases that are ticked, in the order they were ticked. */
const reportOf = computed(() => {
  const ids = compared.value.flatMap((run) => (cards.value ?? []).filter((card) => card.solved_run === run).map((card) => card.id))
  return `/api/report.html?${ids.map((id) => `case=${id}`).join('&')}`
})

function pick(card: Schemas['CaseCardOut'], picked: boolean): void {
  const run = card.solved_run
  if (!run) return
  const others = compared.value.filter((one) => one !== run)
  if (picked && others.length >= MOST) notices.say('Six can be compared at a time.')
  else compared.value = picked ? [...others, run] : others
}

const message = (problem: unknown) => (problem instanceof Error ? problem.message : String(problem))
watch(project, () => {
  compared.value = []
  void loadCards()
})
onMounted(load)
</script>

<template>
  <main class="home">
    <header class="row">
      <h1>Wattikos</h1>
      <nav class="row" aria-label="Projects">
        <v-btn
          v-for="p in projects"
          :key="p.id"
          :class="{ on: p.id === project }"
          :aria-current="p.id === project || undefined"
          @click="project = p.id"
          >{{ p.name }}</v-btn
        >
      </nav>
      <form class="row" @submit.prevent="addProject">
        <v-text-field
          v-model="newName"
          class="new-name"
          placeholder="new project"
          aria-label="name of a new project"
          maxlength="200"
        />
        <v-btn v-if="newName" type="submit">Add</v-btn>
      </form>
      <span class="grow"></span>
      <v-btn v-if="compared.length > 1" variant="text" target="_blank" :href="reportOf" data-test="report-of-several"
        >report of {{ compared.length }}</v-btn
      >
      <v-btn
        v-if="compared.length"
        :disabled="compared.length < 2"
        color="primary"
        variant="flat"
        data-test="compare"
        @click="router.push(`/compare?runs=${compared.join()}`)"
        >{{ compared.length < 2 ? 'tick another to compare' : `compare ${compared.length}` }}</v-btn
      >
      <v-btn variant="text" to="/help">help</v-btn>
      <v-btn variant="text" @click="theme.toggle()">{{ theme.name === 'light' ? 'dark' : 'light' }}</v-btn>
      <AccountMenu />
    </header>
    <p v-if="error" class="fault" role="alert">{{ error }}</p>
    <div v-if="loading" class="muted" role="status">Loading…</div>
    <p v-else-if="!projects.length" class="muted">No project yet: name one above, then begin a case from a starter.</p>
    <div v-else class="columns">
      <div class="begin">
        <FirstSteps @begin="addCase({ starter: FIRST }, 'draw?tour=1')" />
        <section class="sheet new" aria-label="Begin a case">
          <h2>
            Begin a case
            <span class="grow"></span>
            <v-btn variant="text" size="small" @click="files.open()">from a file…</v-btn>
          </h2>
          <StarterList :pictures="cards !== null" @begin="addCase({ starter: $event })" />
        </section>
      </div>
      <section class="cards" aria-label="Cases">
        <p v-if="cards === null" class="muted" role="status">Loading…</p>
        <p v-else-if="!cards.length" class="muted">No case in this project yet: begin one from a starter.</p>
        <CaseCard
          v-for="card in cards ?? []"
          :key="card.id"
          :card="card"
          :picked="card.solved_run ? compared.includes(card.solved_run) : false"
          @pick="pick(card, $event)"
          @open="router.push(`/cases/${card.id}/draw`)"
          @copy="addCase({ copy_of: card.id })"
          @remove="going = card"
        />
        <div v-if="deleted.length" class="row small muted deleted">
          <span>Deleted lately:</span>
          <v-btn
            v-for="gone in deleted"
            :key="gone.id"
            variant="text"
            size="small"
            :data-bring-back="gone.title"
            :aria-label="`bring back ${gone.title}`"
            @click="bringBack(gone.id)"
            >{{ gone.title }}: bring back</v-btn
          >
        </div>
      </section>
    </div>
    <ConfirmDialog
      :model-value="going !== null"
      title="Delete this case?"
      :text="`“${going?.title ?? ''}” goes with all its runs and earlier saves; it can be brought back for thirty days.`"
      action="Delete it"
      @update:model-value="going = $event ? going : null"
      @confirm="going && remove(going)"
    />
  </main>
</template>

<style scoped>
.home {
  height: 100dvh;
  overflow: hidden;
  padding: 14px 18px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
header {
  flex-wrap: wrap;
}
h1 {
  font-family: var(--font-title);
  font-size: 22px;
  margin: 0 14px 0 0;
}
.new-name {
  width: 140px;
}
.columns {
  display: grid;
  grid-template-columns: 392px minmax(0, 1fr);
  gap: 14px;
  flex: 1;
  min-height: 0;
}
.begin {
  display: flex;
  flex-direction: column;
  gap: 12px;
  min-height: 0;
}
.new {
  flex: 1;
  padding: 12px 14px;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(380px, 100%), 1fr));
  gap: 12px;
  align-content: start;
  grid-auto-rows: max-content;
  overflow: auto;
  min-height: 0;
}
.deleted {
  grid-column: 1 / -1;
  flex-wrap: wrap;
}
@media (max-width: 959px), (max-height: 499px) {
  .home {
    height: auto;
    min-height: 100dvh;
    overflow: visible;
  }
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
  .new {
    max-height: 70vh;
    min-height: 300px;
  }
  .cards {
    overflow: visible;
  }
}
</style>
