<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'

import { api, saveFile, take, type Sketch } from '../../api/client'
import FieldTile from '../../compare/FieldTile.vue'
import { colourTable, greyTable, mapOfKind } from '../../design/colourMaps'
import PadMenu from '../../pad/PadMenu.vue'
import { useNotices } from '../../pad/notices'
import { useUnits } from '../../quantity/units'
import type { FilmKind } from '../../sketch/films'
import { linePath } from '../../sketch/flags'
import { readFields, readMesh, type Field, type Paint, type Polygons } from '../../sketch/raster'
import { fit, type Box, type Viewport } from '../../sketch/viewport'
import { useSeries, type SeriesPoint } from '../../stores/series'
import { useTheme } from '../../stores/theme'

/** The field at one solved point after the other along an input, in one range: looked through, played, handed on as a film. */
const series = useSeries()
const units = useUnits()
const theme = useTheme()
const notices = useNotices()
/** Points whose pictures are held at a time, and runs that sketches are asked of at once. */
const [MOST, CHUNK] = [40, 6]
const PACE = 350

interface Picture {
  point: SeriesPoint
  mesh: Polygons
  fields: Field[]
  sketch: Sketch | null
}
/** Solved points along the input, all else as at the point that was clicked, or as at the first. */
const points = computed(() => {
  const solved = (series.shown?.points ?? []).filter((p) => p.state === 'done' && p.run)
  const at = series.pickedPoint ?? solved[0]
  return solved
    .filter((p) => at && p.values.every((text, i) => i === series.along || text === at.values[i]))
    .sort((a, b) => (a.place[series.along] ?? 0) - (b.place[series.along] ?? 0))
    .slice(0, MOST)
})
const pictures = shallowRef<Picture[]>([])
const problem = ref('')
let asked = 0
watch(
  () => points.value.map((p) => p.run).join(),
  async () => {
    const mine = ++asked
    const now = points.value
    problem.value = ''
    try {
      const sketches = new Map<number, Sketch | null>()
      for (let i = 0; i < now.length; i += CHUNK) {
        const runs = now.slice(i, i + CHUNK).map((p) => p.run!)
        const query = { run: runs.length > 1 ? runs : [runs[0]!, now[0]!.run!] }
        if (query.run[0] === query.run[1]) continue
        for (const run of (await take(api.GET('/api/compare', { params: { query } }))).runs) sketches.set(run.run, run.sketch)
      }
      const found: Picture[] = []
      for (const point of now) {
        const data = await take(api.GET('/api/runs/{run}/fields', { params: { path: { run: point.run! } } }))
        if (mine !== asked) return
        found.push({ point, mesh: readMesh(data.mesh), fields: readFields(data.fields), sketch: sketches.get(point.run!) ?? null })
      }
      pictures.value = found
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true },
)
const name = ref('temperature')
const offered = computed(() => pictures.value[0]?.fields.map((f) => f.name) ?? [])
const at = ref(0)
const shown = computed(() => pictures.value[Math.min(at.value, pictures.value.length - 1)] ?? null)
const fieldOf = (picture: Picture) => picture.fields.find((f) => f.name === name.value) ?? null
const field = computed(() => (shown.value ? fieldOf(shown.value) : null))
const range = computed<[number, number]>(() => {
  const all = pictures.value.flatMap((p) => fieldOf(p) ?? [])
  return all.length ? [Math.min(...all.map((f) => f.low)), Math.max(...all.map((f) => f.high))] : [0, 1]
})
const kind = computed(() => field.value?.kind ?? 'number')
const map = computed(() => mapOfKind[kind.value] ?? 'ember')
const paint = computed<Paint>(() => ({
  low: range.value[0],
  high: range.value[1],
  table: colourTable(map.value),
  grey: greyTable(map.value),
  bands: 0,
  band: null,
  hidden: [],
}))
const bounds = computed<Box | null>(() => {
  const boxes = pictures.value.flatMap((p) => (p.sketch ? [p.sketch.bounds] : []))
  if (!boxes.length) return null
  const of = (k: number) => boxes.map((b) => b[k]!)
  return { x0: Math.min(...of(0)), y0: Math.min(...of(1)), x1: Math.max(...of(2)), y1: Math.max(...of(3)) }
})
const size = ref<[number, number]>([0, 0])
const moved = shallowRef<Viewport | null>(null)
const view = computed(() =>
  bounds.value && size.value[0]
    ? (moved.value ?? fit(bounds.value, ...size.value, { x0: 14, y0: 10, x1: 14, y1: 10 }, false))
    : null,
)
const titleOf = (picture: Picture) => `${series.titleOfVaried(series.along).split(',')[0]} ${picture.point.values[series.along]}`
const playing = useIntervalFn(() => (at.value = (at.value + 1) % Math.max(pictures.value.length, 1)), PACE, { immediate: false })

// Handed on: each picture as it is shown, with its title.
const host = ref<HTMLElement | null>(null)
function drawn(): HTMLCanvasElement | null {
  const field = host.value?.querySelector('canvas')
  const [picture, at] = [shown.value, view.value]
  if (!field || !picture || !at) return null
  const scale = field.width / Math.max(field.clientWidth, 1)
  const above = 26 * scale
  const canvas = document.createElement('canvas')
  canvas.width = field.width
  canvas.height = field.height + above
  const pen = canvas.getContext('2d', { willReadFrequently: true })!
  pen.fillStyle = theme.palette().sheet
  pen.fillRect(0, 0, canvas.width, canvas.height)
  pen.drawImage(field, 0, above)
  pen.fillStyle = pen.strokeStyle = theme.palette().ink
  pen.font = `${13 * scale}px sans-serif`
  const [low, high] = range.value.map((v) => units.withUnit(v, kind.value))
  pen.fillText(`${titleOf(picture)}: ${name.value}, ${low} to ${high}`, 10 * scale, 17 * scale)
  pen.setTransform(scale, 0, 0, scale, 0, above)
  for (const b of picture.sketch?.boundaries ?? []) pen.stroke(new Path2D(linePath(at, b.lines)))
  return canvas
}
const filming = ref('')
async function film(how: string): Promise<void> {
  playing.pause()
  const { filmOf } = await import('../../sketch/films')
  const before = at.value
  try {
    let maker: Awaited<ReturnType<typeof filmOf>> | null = null
    for (const [i] of pictures.value.entries()) {
      filming.value = `picture ${i + 1} of ${pictures.value.length}`
      at.value = i
      await nextTick()
      await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)))
      const canvas = drawn()
      if (!canvas) continue
      maker ??= await filmOf(how as FilmKind, 1000 / PACE, canvas.width, canvas.height)
      await maker.add(canvas)
    }
    const ending = { gif: 'gif', webm: 'webm', pngs: 'zip' }[how as FilmKind]
    if (maker) saveFile(await maker.finish(), `${name.value} over ${series.titleOfVaried(series.along).split(',')[0]}.${ending}`)
  } catch (error) {
    notices.say(error instanceof Error ? error.message : String(error))
  } finally {
    filming.value = ''
    at.value = before
  }
}
</script>

<template>
  <div class="film" data-test="series-film">
    <div class="row">
      <v-select v-model="name" class="what" :items="offered" aria-label="field of the film" />
      <v-btn
        size="small"
        variant="text"
        data-test="play"
        :disabled="pictures.length < 2"
        @click="playing.isActive.value ? playing.pause() : playing.resume()"
        >{{ playing.isActive.value ? 'pause' : 'play' }}</v-btn
      >
      <v-slider
        v-model="at"
        min="0"
        :max="Math.max(pictures.length - 1, 0)"
        step="1"
        aria-label="point of the film"
        data-test="film-slider"
      />
      <output class="small" data-test="film-title">{{ shown ? titleOf(shown) : '' }}</output>
      <span class="muted small">{{ filming }}</span>
      <PadMenu
        label="film"
        data-test="film-menu"
        :items="[
          { value: 'gif', title: 'GIF' },
          { value: 'webm', title: 'video (WebM)' },
          { value: 'pngs', title: 'numbered PNGs' },
        ]"
        @choose="film"
      />
    </div>
    <p v-if="problem" class="fault" role="alert">{{ problem }}</p>
    <div ref="host" class="host">
      <FieldTile
        v-if="shown"
        :title="titleOf(shown)"
        :said="`${name}, ${units.withUnit(range[0], kind)} to ${units.withUnit(range[1], kind)} in all`"
        :sketch="shown.sketch"
        :mesh="shown.mesh"
        :field="field"
        :paint="paint"
        :map="map"
        :view="view"
        problem=""
        @size="(width, height) => (size = [width, height])"
        @view="moved = $event"
        @whole="moved = null"
      />
      <p v-else class="muted empty">reading the pictures…</p>
    </div>
  </div>
</template>

<style scoped>
.film,
.host {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.host :deep(.tile) {
  flex: 1;
}
.what {
  flex: none;
  width: 150px;
}
.empty {
  margin: auto;
}
</style>
