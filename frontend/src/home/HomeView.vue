<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, take, type Schemas } from '../api/client'
import { useUnits } from '../quantity/units'
import { useSession } from '../stores/session'
import { useTheme } from '../stores/theme'
import CaseCard from './CaseCard.vue'

/** The cases of a project as small sketches with their key answers. */
const router = useRouter()
const units = useUnits()
const session = useSession()
const theme = useTheme()
const projects = ref<Schemas['ProjectOut'][]>([])
const project = ref<number | null>(null)
const cards = ref<Schemas['CaseCardOut'][]>([])
const loading = ref(true)
const error = ref('')
const newName = ref('')
const file = ref<HTMLInputElement | null>(null)

async function load(): Promise<void> {
  try {
    await units.load()
    projects.value = await take(api.GET('/api/projects'))
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
    cards.value = await take(api.GET('/api/projects/{project}/cases', { params: { path: { project: project.value } } }))
  } catch (problem) {
    error.value = message(problem)
  }
}

async function addCase(body: Schemas['NewCaseBody']): Promise<void> {
  if (project.value === null) return
  error.value = ''
  try {
    const made = await take(api.POST('/api/projects/{project}/cases', { params: { path: { project: project.value } }, body }))
    await router.push(`/cases/${made.id}/draw`)
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
  if (!window.confirm(`Delete “${card.title}” with all its runs?`)) return
  await take(api.DELETE('/api/cases/{case}', { params: { path: { case: card.id } } }))
  await loadCards()
}

async function openFile(event: Event): Promise<void> {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  try {
    await addCase({ document: JSON.parse(await chosen.text()) as Record<string, never> })
  } catch (problem) {
    error.value = `${chosen.name} is not a case document (${message(problem)})`
  }
}

async function leave(): Promise<void> {
  await session.signOut()
  await router.push('/sign-in')
}

const message = (problem: unknown) => (problem instanceof Error ? problem.message : String(problem))
watch(project, loadCards)
onMounted(load)
</script>

<template>
  <main class="home">
    <header class="row">
      <h1>Wattikos</h1>
      <nav class="row" aria-label="Projects">
        <button v-for="p in projects" :key="p.id" class="pad-button" :class="{ on: p.id === project }" @click="project = p.id">{{ p.name }}</button>
      </nav>
      <form class="row" @submit.prevent="addProject">
        <input v-model="newName" class="pad-input" placeholder="new project" aria-label="name of a new project" maxlength="200" />
        <button v-if="newName" class="pad-button" type="submit">Add</button>
      </form>
      <span class="grow"></span>
      <span class="muted">{{ session.user }}</span>
      <button class="pad-button quiet" @click="theme.toggle()">{{ theme.name === 'light' ? 'dark' : 'light' }}</button>
      <button class="pad-button quiet" @click="leave">sign out</button>
    </header>
    <p v-if="error" class="fault" role="alert">{{ error }}</p>
    <div v-if="loading" class="muted">Loading…</div>
    <p v-else-if="!projects.length" class="muted">No project yet: name one above, then begin a case from a starter.</p>
    <div v-else class="cards">
      <CaseCard v-for="card in cards" :key="card.id" :card="card" @open="router.push(`/cases/${card.id}/draw`)" @copy="addCase({ copy_of: card.id })" @remove="remove(card)" />
      <section class="sheet new" aria-label="New case">
        <h2>Begin a case</h2>
        <div class="starters">
          <button v-for="s in units.catalogue?.starters ?? []" :key="s.key" class="starter" :title="s.summary" :data-starter="s.key" @click="addCase({ starter: s.key })"><b>{{ s.label }}</b> <span class="muted small">{{ s.summary }}</span></button>
        </div>
        <button class="pad-button" @click="file?.click()">From a case file…</button>
        <input ref="file" type="file" accept=".json,application/json" hidden @change="openFile" />
      </section>
    </div>
  </main>
</template>

<style scoped>
.home { height: 100%; overflow: auto; padding: 14px 18px; display: flex; flex-direction: column; gap: 14px; }
h1 { font-family: var(--font-title); font-size: 22px; margin: 0 14px 0 0; }
form .pad-input { width: 140px; }
.cards { display: grid; grid-template-columns: repeat(auto-fill, minmax(400px, 1fr)); gap: 12px; align-items: stretch; }
.new { grid-column: 1 / -1; gap: 8px; padding: 14px; align-items: flex-start; }
.starter { font: inherit; text-align: left; color: inherit; background: var(--raised); border: 1px solid var(--line); padding: 4px 10px; cursor: pointer; line-height: 1.3; }
.starters { display: grid; grid-template-columns: repeat(auto-fill, minmax(290px, 1fr)); gap: 6px; width: 100%; }
.starter:hover { border-color: var(--heat); }
</style>
