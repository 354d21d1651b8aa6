<script setup lang="ts">
import { useFileDialog } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, ApiError, take, upload, type CaseDocument, type Schemas } from '../../api/client'
import { useCase } from '../../stores/case'
import { useViews } from '../../stores/views'
import { readingOf } from '../../stores/wishes'

/** Report: what it holds, in which order, with one's own words; to read and print, as DOCX, on one page, as an archive. */
type Section = NonNullable<NonNullable<CaseDocument['report']>['sections']>[number]
const theCase = useCase()
const views = useViews()
const known = shallowRef<Schemas['SectionOut'][]>([])
const head = ref<Schemas['LetterheadOut']>({ company: '', logo: false })
const problem = ref('')
onMounted(async () => {
  ;[known.value, head.value] = await Promise.all([take(api.GET('/api/report-sections')), take(api.GET('/api/letterhead'))])
})

const standard = computed<Section[]>(() =>
  known.value.filter((one) => one.name !== 'text').map((one) => ({ name: one.name as Section['name'], title: '', text: '' })),
)
const chosen = computed<Section[]>(() => theCase.document?.report?.sections ?? [])
const sections = computed(() => (chosen.value.length ? chosen.value : standard.value))
const missing = computed(() =>
  known.value.filter((one) => one.name === 'text' || !sections.value.some((section) => section.name === one.name)),
)
const titleOf = (section: Section) => section.title || known.value.find((one) => one.name === section.name)?.title || section.name
function change(what: string, act: (sections: Section[]) => void): void {
  theCase.edit(`report.${what}`, (d) => {
    d.report ??= { sections: [], paper: 'A4' }
    if (!d.report.sections.length) d.report.sections = standard.value.map((one) => ({ ...one }))
    act(d.report.sections)
  })
}
const move = (i: number, by: number) =>
  change(`move ${Date.now()}`, (all) => {
    const [one] = all.splice(i, 1)
    all.splice(i + by, 0, one!)
  })
const remove = (i: number) => change(`remove ${Date.now()}`, (all) => all.splice(i, 1))
const add = (name: string) => change(`add ${Date.now()}`, (all) => all.push({ name: name as Section['name'], title: '', text: '' }))
/** Whose own words are being written. */
const writing = ref<number | null>(null)

function printView(name: string, printed: boolean): void {
  theCase.edit(`reading.views.printed ${name}`, (d) => {
    const view = readingOf(d).views.find((one) => one.name === name)
    if (view) view.printed = printed
  })
}

async function setCompany(company: string): Promise<void> {
  head.value = await take(api.PUT('/api/letterhead', { body: { company } }))
}
const files = useFileDialog({ accept: 'image/png,image/jpeg', multiple: false, reset: true })
files.onChange((chosen) => void setLogo(chosen?.[0]))
async function setLogo(file: File | undefined): Promise<void> {
  problem.value = ''
  try {
    if (file) head.value = await upload<Schemas['LetterheadOut']>('/api/letterhead/logo', file)
  } catch (error) {
    problem.value = error instanceof ApiError ? error.message : String(error)
  }
}
const removeLogo = async () => (head.value = await take(api.DELETE('/api/letterhead/logo')))
const making = ref(false)
/** The report is of what is stored. */
async function open(how: 'html' | 'docx'): Promise<void> {
  making.value = true
  const tab = how === 'html' ? window.open('', '_blank') : null
  try {
    await theCase.save()
    const address = `/api/report.${how}?case=${theCase.id}`
    if (tab) tab.location.assign(address)
    else window.location.assign(address)
  } finally {
    making.value = false
  }
}
</script>

<template>
  <h2>
    Report
    <span class="grow"></span>
    <v-btn variant="text" size="small" data-test="report-docx" :disabled="making" @click="open('docx')">DOCX</v-btn>
    <v-btn color="primary" variant="flat" data-test="report-html" :disabled="making" @click="open('html')">Read and print</v-btn>
  </h2>
  <div class="scroll">
    <p v-if="!theCase.solution" class="doubt">Nothing is solved yet: the report will hold the hand calculation alone and say so.</p>
    <p v-else-if="theCase.staleBecause.length" class="doubt">
      The case has changed since it was solved ({{ theCase.staleBecause.join(', ') }}): the report will say so and leave the fields
      out.
    </p>
    <div class="both">
      <section aria-label="sections">
        <div v-for="(section, i) in sections" :key="i" class="section" :data-test="`section-${section.name}`">
          <span class="name">{{ i + 1 }} {{ titleOf(section) }}</span>
          <v-btn
            v-tip="'a title and words of your own'"
            variant="text"
            size="small"
            :aria-label="`words before ${titleOf(section)}`"
            :class="{ on: section.text }"
            @click="writing = writing === i ? null : i"
            >✎</v-btn
          >
          <v-btn variant="text" size="small" :disabled="i === 0" :aria-label="`${titleOf(section)} earlier`" @click="move(i, -1)"
            >↑</v-btn
          >
          <v-btn
            variant="text"
            size="small"
            :disabled="i === sections.length - 1"
            :aria-label="`${titleOf(section)} later`"
            @click="move(i, 1)"
            >↓</v-btn
          >
          <v-btn variant="text" size="small" :aria-label="`leave out ${titleOf(section)}`" @click="remove(i)">×</v-btn>
          <div v-if="writing === i" class="words">
            <v-text-field
              :model-value="section.title"
              :placeholder="titleOf(section)"
              aria-label="title"
              maxlength="120"
              @update:model-value="change(`title ${i}`, (all) => (all[i]!.title = $event))"
            />
            <v-textarea
              rows="3"
              :model-value="section.text"
              placeholder="words of your own"
              aria-label="words of your own"
              data-test="own-words"
              @update:model-value="change(`text ${i}`, (all) => (all[i]!.text = $event))"
            />
          </div>
        </div>
        <v-select
          v-if="missing.length"
          class="more"
          :model-value="null"
          :items="missing.map((one) => ({ value: one.name, title: one.title }))"
          placeholder="add a section"
          aria-label="add a section"
          data-test="add-section"
          @update:model-value="$event && add($event)"
        />
      </section>
      <section aria-label="on it">
        <v-label id="note-label" for="note">Task, in your words</v-label>
        <v-textarea
          id="note"
          rows="3"
          :model-value="theCase.document?.note"
          @update:model-value="theCase.edit('note', (d) => (d.note = $event))"
        />
        <div class="form">
          <v-label for="company">Company</v-label>
          <v-text-field
            id="company"
            :model-value="head.company"
            maxlength="120"
            data-test="company"
            @change="setCompany($event.target.value)"
          />
          <span class="muted">Logo</span>
          <span class="row">
            <v-btn variant="text" size="small" data-test="logo" @click="files.open()">{{
              head.logo ? 'another…' : 'choose…'
            }}</v-btn>
            <v-btn v-if="head.logo" variant="text" size="small" @click="removeLogo">take off</v-btn>
          </span>
          <v-label for="paper">Paper</v-label>
          <v-select
            id="paper"
            :model-value="theCase.document?.report?.paper ?? 'A4'"
            :items="['A4', 'letter']"
            @update:model-value="
              theCase.edit('report.paper', (d) => (d.report = { ...(d.report ?? { sections: [] }), paper: $event }))
            "
          />
        </div>
        <p v-if="problem" class="fault small" role="alert">{{ problem }}</p>
        <v-checkbox
          v-for="view in views.views"
          :key="view.name"
          :model-value="view.printed"
          :label="`view: ${view.name}`"
          data-test="print-view"
          @update:model-value="printView(view.name, Boolean($event))"
        />
        <v-checkbox
          :model-value="theCase.document?.reading?.balances ?? false"
          label="balances, on the one page"
          data-test="print-balances"
          @update:model-value="theCase.edit('reading.balances', (d) => (readingOf(d).balances = Boolean($event)))"
        />
        <p class="row wrap">
          <v-btn variant="text" size="small" :to="`/cases/${theCase.id}/print`" data-test="open-report">on one page</v-btn>
          <v-btn
            v-tip="'the case with its saves, runs, fields and series, to be opened again from the home page'"
            variant="text"
            size="small"
            :href="`/api/cases/${theCase.id}/archive.zip`"
            data-test="archive"
            >everything as an archive</v-btn
          >
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 4px 18px;
}
.section {
  display: grid;
  grid-template-columns: minmax(0, 1fr) repeat(4, max-content);
  align-items: center;
  border-bottom: 1px solid var(--hair);
}
.section .v-btn {
  min-width: 24px;
  padding: 0 4px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.words {
  grid-column: 1 / -1;
  padding-bottom: 4px;
}
.form {
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 2px 8px;
  align-items: center;
}
.more {
  margin-top: 4px;
}
.wrap {
  flex-wrap: wrap;
}
p {
  margin: 4px 0;
}
</style>
