<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { saveFile } from '../api/client'
import { useUnits } from '../quantity/units'
import { STAGES, type Stage } from '../router'
import ColourScale from '../sketch/ColourScale.vue'
import FrameStrip from '../sketch/FrameStrip.vue'
import SketchView from '../sketch/SketchView.vue'
import ConditionsStage from '../stages/conditions/ConditionsStage.vue'
import DrawStage from '../stages/draw/DrawStage.vue'
import GridStage from '../stages/grid/GridStage.vue'
import ReadStage from '../stages/read/ReadStage.vue'
import ReportStage from '../stages/report/ReportStage.vue'
import { useCase } from '../stores/case'
import { useReading } from '../stores/reading'
import { useTheme } from '../stores/theme'
import CommandPalette, { type Command } from './CommandPalette.vue'
import ConflictDialog from './ConflictDialog.vue'
import GivenPanel from './GivenPanel.vue'
import LedgerPanel from './LedgerPanel.vue'
import RevisionsDialog from './RevisionsDialog.vue'
import StageStrip from './StageStrip.vue'

/** The desk: the sketch, and below it Given, the form of the stage at hand, and the Ledger. */
const SolveStage = defineAsyncComponent(() => import('../stages/solve/SolveStage.vue'))
const VaryStage = defineAsyncComponent(() => import('../stages/vary/VaryStage.vue'))
const SizeStage = defineAsyncComponent(() => import('../stages/size/SizeStage.vue'))

const route = useRoute()
const router = useRouter()
const theCase = useCase()
const reading = useReading()
const units = useUnits()
const theme = useTheme()
const palette = ref(false)
const earlier = ref(false)

const stage = computed<Stage>(() => (STAGES.includes(route.params.stage as Stage) ? (route.params.stage as Stage) : 'draw'))
const forms = { draw: DrawStage, conditions: ConditionsStage, grid: GridStage, solve: SolveStage, read: ReadStage, vary: VaryStage, size: SizeStage, report: ReportStage }
const showsField = computed(() => ['solve', 'read', 'size', 'report'].includes(stage.value) && theCase.readable !== null)
const mode = computed(() => (stage.value === 'grid' ? 'grid' : showsField.value && reading.mesh ? 'field' : 'plain'))
const saveWords: Record<string, string> = { saved: 'saved', unsaved: 'not saved yet', saving: 'saving…', conflict: 'saved elsewhere', offline: 'no connection; kept in this browser' }

function go(next: Stage): void {
  void router.push(`/cases/${theCase.id}/${next}`)
}

watch(
  () => route.params.id,
  async (id) => {
    if (!id) return
    reading.clear()
    await units.load().catch(() => undefined)
    await theCase.open(Number(id))
  },
  { immediate: true },
)
watch([() => theCase.readable?.id, () => theCase.readable?.frames.at(-1)?.number, showsField], () => {
  if (showsField.value) void reading.followFrames().catch(() => undefined)
})
watch([stage, () => theCase.view], () => {
  if (stage.value === 'grid') void reading.loadGrid()
})
watch(
  () => theCase.document?.title,
  (title) => (document.title = title ? `${title} · Wattikos` : 'Wattikos'),
)

const commands = computed<Command[]>(() => [
  ...STAGES.map((s, i) => ({ name: `Go to ${s}`, keys: String(i + 1), run: () => go(s) })),
  { name: 'Solve the case', keys: 'Ctrl Enter', run: solve },
  { name: 'Stop the running solve', run: () => void theCase.stop(theCase.run) },
  { name: 'Find the size', run: () => { go('size'); void theCase.start('sizing') } },
  { name: 'Undo', keys: 'Ctrl Z', run: theCase.undo },
  { name: 'Redo', keys: 'Ctrl Shift Z', run: theCase.redo },
  { name: 'Save now', keys: 'Ctrl S', run: () => void theCase.save() },
  { name: 'Earlier saves', run: () => (earlier.value = true) },
  { name: 'Download the case', run: downloadCase },
  { name: 'Print the report', run: () => void router.push(`/cases/${theCase.id}/print`) },
  { name: theme.name === 'light' ? 'Dark sheet' : 'Light sheet', run: theme.toggle },
  { name: 'Select all outer boundaries', run: () => { theCase.picked = (theCase.sketch?.boundaries ?? []).filter((b) => !b.interface).map((b) => b.name); go('conditions') } },
  { name: 'Back to the project', run: () => void router.push('/') },
])

function downloadCase(): void {
  saveFile(new Blob([JSON.stringify(theCase.document, null, 2)], { type: 'application/json' }), `${theCase.document?.title ?? 'case'}.json`)
}

function solve(): void {
  if (!['solve', 'read'].includes(stage.value)) go('solve')
  void theCase.start('solve')
}

function key(event: KeyboardEvent): void {
  const command = event.ctrlKey || event.metaKey
  const typing = event.target instanceof HTMLElement && ['INPUT', 'TEXTAREA', 'SELECT'].includes(event.target.tagName)
  if (command && event.key.toLowerCase() === 'k') palette.value = !palette.value
  else if (command && event.key === 'Enter') solve()
  else if (command && event.key.toLowerCase() === 's') void theCase.save()
  else if (command && event.key.toLowerCase() === 'z' && !typing) (event.shiftKey ? theCase.redo : theCase.undo)()
  else if (!typing && !command && !event.altKey && /^[1-8]$/.test(event.key)) go(STAGES[Number(event.key) - 1]!)
  else return
  event.preventDefault()
}

function beforeLeaving(event: BeforeUnloadEvent): void {
  if (theCase.saveState === 'saving' || theCase.saveState === 'unsaved') event.preventDefault()
}

onMounted(() => {
  window.addEventListener('keydown', key)
  window.addEventListener('beforeunload', beforeLeaving)
})
onBeforeUnmount(() => {
  window.removeEventListener('keydown', key)
  window.removeEventListener('beforeunload', beforeLeaving)
  theCase.close()
  reading.clear()
})
</script>

<template>
  <div class="desk">
    <header class="row">
      <RouterLink to="/" class="muted home">{{ theCase.projectName || 'Projects' }}</RouterLink>
      <span class="muted">/</span>
      <input
        v-if="theCase.document"
        class="title pad-input"
        :value="theCase.document.title"
        aria-label="title of the case"
        maxlength="200"
        @change="theCase.edit('title', (d) => (d.title = ($event.target as HTMLInputElement).value.trim() || d.title))"
      />
      <span class="small" :class="theCase.saveState === 'saved' ? 'muted' : theCase.saveState === 'conflict' || theCase.saveState === 'offline' ? 'fault' : 'heat'" data-test="save-state" :title="theCase.saveError">{{ theCase.saveError ? 'cannot be saved' : saveWords[theCase.saveState] }}</span>
      <span class="grow"></span>
      <button class="pad-button quiet" :disabled="!theCase.undoStack.length" @click="theCase.undo()">undo</button>
      <button class="pad-button quiet" :disabled="!theCase.redoStack.length" @click="theCase.redo()">redo</button>
      <button class="pad-button quiet" @click="earlier = true">earlier saves</button>
      <button class="pad-button quiet" @click="palette = true">commands <kbd>Ctrl K</kbd></button>
      <button class="pad-button quiet" @click="theme.toggle()">{{ theme.name === 'light' ? 'dark' : 'light' }}</button>
    </header>
    <StageStrip :stage="stage" @go="go" />
    <p v-if="theCase.loadError" class="fault sheet" role="alert">{{ theCase.loadError }} <RouterLink to="/">Back to the projects</RouterLink></p>
    <section class="sheet drawing" aria-label="Sketch">
      <SketchView :mode="mode" :draw="stage === 'draw'" @condition="stage === 'read' ? undefined : go('conditions')" />
      <FrameStrip v-if="mode === 'field'" />
      <ColourScale v-if="mode === 'field'" />
    </section>
    <GivenPanel class="given" />
    <section class="sheet stage-form" :aria-label="stage" :data-form="stage">
      <component :is="forms[stage]" v-if="theCase.document" />
    </section>
    <LedgerPanel class="ledger" />
    <ConflictDialog />
    <RevisionsDialog v-model="earlier" />
    <CommandPalette v-model="palette" :commands="commands" />
  </div>
</template>

<style scoped>
.desk { height: 100dvh; display: grid; gap: 6px; padding: 4px 8px 8px; grid-template: auto auto minmax(220px, 1fr) minmax(282px, 37%) / 290px minmax(0, 1fr) 500px; grid-template-areas: 'head head head' 'strip strip strip' 'sketch sketch sketch' 'given form ledger'; }
header { grid-area: head; min-height: 30px; }
.home { text-decoration: none; }
.home:hover { color: var(--heat); }
.title { font-family: var(--font-title); font-weight: 600; font-size: 15px; width: 330px; border-bottom-color: transparent; }
.strip { grid-area: strip; }
.drawing { grid-area: sketch; padding: 6px 8px; }
.given { grid-area: given; }
.stage-form { grid-area: form; }
.ledger { grid-area: ledger; }
p.sheet { grid-area: sketch; z-index: 2; display: block; }
@media (min-width: 1600px) {
  .desk { grid-template-columns: 340px minmax(0, 1fr) 600px; grid-template-rows: auto auto minmax(220px, 1fr) minmax(300px, 40%); }
}
</style>
