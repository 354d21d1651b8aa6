<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { saveFile } from '../api/client'
import { useUnits } from '../quantity/units'
import { STAGES, type Stage } from '../router'
import ConditionsStage from '../stages/conditions/ConditionsStage.vue'
import DrawStage from '../stages/draw/DrawStage.vue'
import GridStage from '../stages/grid/GridStage.vue'
import ReadStage from '../stages/read/ReadStage.vue'
import ReportStage from '../stages/report/ReportStage.vue'
import HandCalculations from '../hand/HandCalculations.vue'
import { useCase } from '../stores/case'
import { useLines } from '../stores/lines'
import { useLook } from '../stores/look'
import { useProbes } from '../stores/probes'
import { useReading } from '../stores/reading'
import { useTheme } from '../stores/theme'
import { useWalls } from '../stores/walls'
import { useViews } from '../stores/views'
import CommandPalette, { type Command } from './CommandPalette.vue'
import ConflictDialog from './ConflictDialog.vue'
import DeskLayout from './DeskLayout.vue'
import DrawingPane from './DrawingPane.vue'
import GivenPanel from './GivenPanel.vue'
import LedgerPanel from './LedgerPanel.vue'
import RevisionsDialog from './RevisionsDialog.vue'
import StageStrip from './StageStrip.vue'
import TourLine from './TourLine.vue'

/** The desk: the sketch, and below it Given, the form of the stage at hand, and the Ledger. */
const SolveStage = defineAsyncComponent(() => import('../stages/solve/SolveStage.vue'))
const VaryStage = defineAsyncComponent(() => import('../stages/vary/VaryStage.vue'))
const SizeStage = defineAsyncComponent(() => import('../stages/size/SizeStage.vue'))

const route = useRoute()
const router = useRouter()
const theCase = useCase()
const reading = useReading()
const look = useLook()
const lines = useLines()
const probes = useProbes()
const views = useViews()
const walls = useWalls()
const units = useUnits()
const theme = useTheme()
const palette = ref(false)
const earlier = ref(false)
const byHand = ref(false)
const layout = ref<InstanceType<typeof DeskLayout> | null>(null)

const stage = computed<Stage>(() => (STAGES.includes(route.params.stage as Stage) ? (route.params.stage as Stage) : 'draw'))
const forms = {
  draw: DrawStage,
  conditions: ConditionsStage,
  grid: GridStage,
  solve: SolveStage,
  read: ReadStage,
  vary: VaryStage,
  size: SizeStage,
  report: ReportStage,
}
const showsField = computed(() => ['solve', 'read', 'size', 'report'].includes(stage.value) && theCase.readable !== null)
const mode = computed(() => (stage.value === 'grid' ? 'grid' : showsField.value && reading.mesh ? 'field' : 'plain'))
const saveWords: Record<string, string> = {
  saved: 'saved',
  unsaved: 'not saved yet',
  saving: 'saving…',
  conflict: 'saved elsewhere',
  offline: 'no connection; kept in this browser',
}

function go(next: Stage): void {
  void router.push({ path: `/cases/${theCase.id}/${next}`, query: route.query })
}

watch(
  () => route.params.id,
  async (id) => {
    if (!id) return
    reading.clear()
    look.clear()
    lines.clear()
    walls.field = ''
    probes.course = ''
    views.current = ''
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
  {
    name: 'Find the size',
    run: () => {
      go('size')
      void theCase.start('sizing')
    },
  },
  { name: 'Undo', keys: 'Ctrl Z', run: theCase.undo },
  { name: 'Redo', keys: 'Ctrl Shift Z', run: theCase.redo },
  { name: 'Save now', keys: 'Ctrl S', run: () => void theCase.save() },
  { name: 'Hand calculations', run: () => (byHand.value = true) },
  { name: 'Earlier saves', run: () => (earlier.value = true) },
  { name: 'Download the case', run: downloadCase },
  { name: 'Download everything (ZIP)', run: () => window.location.assign(`/api/cases/${theCase.id}/archive.zip`) },
  { name: 'Print the report', run: () => void router.push(`/cases/${theCase.id}/print`) },
  { name: theme.name === 'light' ? 'Dark sheet' : 'Light sheet', run: theme.toggle },
  { name: 'Fold or open Given', run: () => layout.value?.fold('given') },
  { name: 'Fold or open the Ledger', run: () => layout.value?.fold('ledger') },
  { name: 'Fold or open all below the drawing', run: () => layout.value?.fold('lower') },
  {
    name: 'Select all outer boundaries',
    run: () => {
      theCase.picked = (theCase.sketch?.boundaries ?? []).filter((b) => !b.interface).map((b) => b.name)
      go('conditions')
    },
  },
  { name: 'Help: keys, words, units, expressions', run: () => void router.push('/help') },
  { name: 'Back to the project', run: () => void router.push('/') },
])

function downloadCase(): void {
  saveFile(
    new Blob([JSON.stringify(theCase.document, null, 2)], { type: 'application/json' }),
    `${theCase.document?.title ?? 'case'}.json`,
  )
}

function solve(): void {
  if (!['solve', 'read'].includes(stage.value)) go('solve')
  void theCase.start('solve')
}

/** Whether a field holds what is not in the case yet: undoing is the browser's business there. */
function unfinished(field: HTMLElement | null): boolean {
  return field !== null && (field.closest('[data-typing]') !== null || field.closest('.v-dialog, [data-own-undo]') !== null)
}

function key(event: KeyboardEvent): void {
  const command = event.ctrlKey || event.metaKey
  const field = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement ? event.target : null
  // A list to choose from, a box to tick and a slider take no digits.
  const typing = field !== null && field.inputMode !== 'none' && !['checkbox', 'range'].includes(field.type)
  if (command && event.key.toLowerCase() === 'k') palette.value = !palette.value
  else if (command && event.key === 'Enter') solve()
  else if (command && event.key.toLowerCase() === 's') void theCase.save()
  else if (command && event.key.toLowerCase() === 'z' && !unfinished(field)) (event.shiftKey ? theCase.redo : theCase.undo)()
  else if (!typing && !command && !event.altKey && /^[1-8]$/.test(event.key)) go(STAGES[Number(event.key) - 1]!)
  else return
  event.preventDefault()
}

function beforeLeaving(event: BeforeUnloadEvent): void {
  if (theCase.saveState === 'saving' || theCase.saveState === 'unsaved') event.preventDefault()
}

useEventListener(window, 'keydown', key)
useEventListener(window, 'beforeunload', beforeLeaving)
onBeforeUnmount(() => {
  theCase.close()
  reading.clear()
})
</script>

<template>
  <main class="desk">
    <header class="row">
      <RouterLink to="/" class="muted home">{{ theCase.projectName || 'Projects' }}</RouterLink>
      <span class="muted">/</span>
      <h1 class="unseen">{{ theCase.document?.title ?? 'Case' }}</h1>
      <v-text-field
        v-if="theCase.document"
        class="title"
        :model-value="theCase.document.title"
        aria-label="title of the case"
        maxlength="200"
        @change="theCase.edit('title', (d) => (d.title = ($event.target as HTMLInputElement).value.trim() || d.title))"
      />
      <span
        v-tip="theCase.saveError"
        class="small"
        :class="
          theCase.saveState === 'saved'
            ? 'muted'
            : theCase.saveState === 'conflict' || theCase.saveState === 'offline'
              ? 'fault'
              : 'heat'
        "
        data-test="save-state"
        >{{ theCase.saveError ? 'cannot be saved' : saveWords[theCase.saveState] }}</span
      >
      <span v-if="theCase.newer" class="small doubt" role="status" data-test="newer"
        >saved elsewhere as revision {{ theCase.newer }}
        <v-btn variant="text" size="small" data-test="take-newer" @click="theCase.takeNewer()">take it over</v-btn></span
      >
      <span class="grow"></span>
      <v-btn variant="text" :disabled="!theCase.undoStack.length" @click="theCase.undo()">undo</v-btn>
      <v-btn variant="text" :disabled="!theCase.redoStack.length" @click="theCase.redo()">redo</v-btn>
      <v-btn variant="text" @click="earlier = true">earlier saves</v-btn>
      <v-btn variant="text" @click="palette = true">commands <kbd class="ms-1">Ctrl K</kbd></v-btn>
      <v-btn variant="text" @click="theme.toggle()">{{ theme.name === 'light' ? 'dark' : 'light' }}</v-btn>
    </header>
    <StageStrip :stage="stage" @go="go" />
    <TourLine v-if="route.query.tour && theCase.document" :stage="stage" />
    <p v-if="theCase.loadError" class="fault sheet" role="alert">
      {{ theCase.loadError }} <RouterLink to="/">Back to the projects</RouterLink>
      <v-btn variant="text" size="small" :href="`/api/cases/${theCase.id}/case.json`">download the document</v-btn>
      <v-btn variant="text" size="small" data-test="take-earlier" @click="earlier = true">take an earlier save</v-btn>
    </p>
    <DeskLayout ref="layout">
      <template #drawing>
        <DrawingPane
          :mode="mode"
          :draw="stage === 'draw'"
          :reads="stage === 'read'"
          :panel="stage === 'vary' ? 'series' : stage === 'size' ? 'sizing' : undefined"
          @condition="stage === 'read' ? undefined : go('conditions')"
          @below="layout?.giveRoom($event)"
        />
      </template>
      <template #given="{ fold }"><GivenPanel @fold="fold" /></template>
      <template #form>
        <section class="sheet" :aria-label="stage" :data-form="stage">
          <component :is="forms[stage]" v-if="theCase.document" />
        </section>
      </template>
      <template #ledger="{ fold }"><LedgerPanel @fold="fold" @hand="byHand = true" /></template>
    </DeskLayout>
    <ConflictDialog />
    <RevisionsDialog v-model="earlier" />
    <HandCalculations v-model="byHand" />
    <CommandPalette v-model="palette" :commands="commands" />
  </main>
</template>

<style scoped>
.desk {
  height: 100dvh;
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 4px 8px 8px;
}
header {
  min-height: 30px;
  flex-wrap: wrap;
  row-gap: 0;
}
.home {
  text-decoration: none;
}
.home:hover {
  color: var(--heat);
}
.title {
  font-family: var(--font-title);
  font-weight: 600;
  font-size: 15px;
  flex: 0 1 330px;
  min-width: 160px;
}
p.sheet {
  display: block;
  flex: none;
}
@media (max-width: 959px), (max-height: 499px) {
  .desk {
    height: auto;
    min-height: 100dvh;
  }
}
</style>
