<script setup lang="ts">
import { computed, ref } from 'vue'

import { saveFile, type Run } from '../../api/client'
import { useNotices } from '../../pad/notices'
import { copyPicture, pngOf } from '../../pad/pictures'
import type { FilmKind } from '../../sketch/films'
import { usePicture } from '../../sketch/handing'
import { useCase } from '../../stores/case'
import { useReading } from '../../stores/reading'
import { useTheme } from '../../stores/theme'

/** What is handed on: the picture, films, fields and tables. */
defineProps<{ run: Run }>()
const theCase = useCase()
const reading = useReading()
const theme = useTheme()
const notices = useNotices()

const { svg, settled } = usePicture()
const name = computed(() => `${theCase.document?.title ?? 'case'}, ${reading.field?.name ?? ''}`)

async function picture(how: 'svg' | 'png' | 'copy'): Promise<void> {
  const text = svg()
  if (!text) return
  if (how === 'svg') return saveFile(new Blob([text], { type: 'image/svg+xml' }), `${name.value}.svg`)
  const png = await pngOf(text, theme.palette().sheet)
  if (how === 'png') saveFile(png, `${name.value}.png`)
  else
    notices.say(
      (await copyPicture(png)) ? 'The picture is in the clipboard.' : 'This browser does not let pictures into the clipboard.',
    )
}

// Films: frame by frame, each as the picture of it.
const filmKind = ref<FilmKind>('webm')
const perSecond = ref(10)
const filming = ref('')
let stopped = false

async function film(): Promise<void> {
  const { filmOf } = await import('../../sketch/films')
  const before = reading.frameNumber
  stopped = false
  filming.value = 'begins'
  try {
    let maker: Awaited<ReturnType<typeof filmOf>> | null = null
    for (const [index, frame] of reading.frames.entries()) {
      if (stopped) return
      filming.value = `picture ${index + 1} of ${reading.frames.length}`
      await reading.showFrame(frame.number)
      await settled()
      const image = await createImageBitmap(await pngOf(svg()!, theme.palette().sheet, 1))
      const canvas = document.createElement('canvas')
      canvas.width = image.width
      canvas.height = image.height
      canvas.getContext('2d', { willReadFrequently: true })!.drawImage(image, 0, 0)
      maker ??= await filmOf(filmKind.value, perSecond.value, canvas.width, canvas.height)
      await maker.add(canvas)
    }
    const ending = { gif: 'gif', webm: 'webm', pngs: 'zip' }[filmKind.value]
    if (maker) saveFile(await maker.finish(), `${name.value}.${ending}`)
  } catch (error) {
    notices.say(error instanceof Error ? error.message : String(error))
  } finally {
    filming.value = ''
    await reading.showFrame(before)
  }
}
</script>

<template>
  <div class="form">
    <span class="label">Picture</span>
    <span class="row files">
      <v-btn
        v-tip="'what is shown, with scale, title and date'"
        variant="text"
        size="small"
        data-test="picture-png"
        @click="picture('png')"
        >PNG</v-btn
      >
      <v-btn variant="text" size="small" data-test="picture-svg" @click="picture('svg')">SVG</v-btn>
      <v-btn variant="text" size="small" data-test="picture-copy" @click="picture('copy')">copy</v-btn>
    </span>
    <template v-if="reading.frames.length > 1">
      <span class="label">Film</span>
      <span class="row files">
        <v-select
          v-model="filmKind"
          class="kind"
          aria-label="kind of film"
          data-test="film-kind"
          :items="[
            { value: 'webm', title: 'video (WebM)' },
            { value: 'gif', title: 'GIF' },
            { value: 'pngs', title: 'pictures (PNG)' },
          ]"
        />
        <v-select
          v-if="filmKind !== 'pngs'"
          v-model="perSecond"
          class="pace"
          aria-label="pictures a second"
          :items="[5, 10, 15, 25].map((n) => ({ value: n, title: `${n} a second` }))"
        />
        <v-btn v-if="!filming" size="small" data-test="film" @click="film">make</v-btn>
        <template v-else>
          <span class="small muted" role="status">{{ filming }}</span>
          <v-btn variant="text" size="small" @click="stopped = true">stop</v-btn>
        </template>
      </span>
    </template>
    <span class="label">Fields</span>
    <span class="row files">
      <v-btn
        v-tip="'VTU, of what is shown'"
        variant="text"
        size="small"
        :href="`/api/runs/${run.id}/fields.vtu?frame=${reading.frameNumber}`"
        >fields (VTU)</v-btn
      >
      <v-btn
        v-if="reading.frames.length > 1"
        v-tip="'a VTU for each frame, with the collection of their times'"
        variant="text"
        size="small"
        :href="`/api/runs/${run.id}/series.zip`"
        >all frames (PVD)</v-btn
      >
    </span>
    <template v-if="run.ledger.length">
      <span class="label">Ledger</span>
      <span class="row files">
        <v-btn v-tip="'all quantities'" variant="text" size="small" :href="`/api/runs/${run.id}/ledger.csv`">CSV</v-btn>
        <v-btn v-tip="'all quantities'" variant="text" size="small" :href="`/api/runs/${run.id}/ledger.xlsx`">XLSX</v-btn>
        <v-btn variant="text" size="small" :href="`/api/runs/${run.id}/ledger.json`">JSON</v-btn>
      </span>
    </template>
    <span class="label">Besides</span>
    <span class="row files">
      <v-btn
        v-if="reading.frames.length > 1"
        v-tip="'CSV, watched quantities over time'"
        variant="text"
        size="small"
        :href="`/api/runs/${run.id}/history.csv`"
        >history</v-btn
      >
      <v-btn
        v-if="run.summary.record"
        v-tip="'JSON: versions, machine, schemes, properties with their sources; `wattikos repeat` solves it again'"
        variant="text"
        size="small"
        :href="`/api/runs/${run.id}/record.json`"
        >record</v-btn
      >
      <v-btn v-tip="'JSON'" variant="text" size="small" :href="`/api/runs/${run.id}/case.json`">case</v-btn>
    </span>
  </div>
</template>

<style scoped>
.files {
  flex-wrap: wrap;
  gap: 0 4px;
}
.kind {
  flex: 0 1 130px;
}
.pace {
  flex: 0 1 110px;
}
</style>
