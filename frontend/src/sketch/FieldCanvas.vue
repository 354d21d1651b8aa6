<script setup lang="ts">
import { useRafFn, useTimeoutFn } from '@vueuse/core'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'

import { colourAt } from '../design/colourMaps'
import { useTheme } from '../stores/theme'
import { drawArrows, type ArrowLook } from './arrows'
import { isoLabels, isolines } from './isolines'
import { colour, rasterise, type Paint, type Polygons } from './raster'
import type { Shading } from './shading'
import { drawHeads, drawStreamlines, particlesAt, type Streamlines } from './streams'
import { toX, toY, type Viewport } from './viewport'

/** A field laid into a drawing: shaded, in bands or as labelled lines, with arrows, streamlines and moving particles. */
const props = withDefaults(
  defineProps<{
    mesh: Polygons | null
    shading: Shading | null
    view: Viewport | null
    width: number
    height: number
    paint: Paint
    map: string
    /** Values of labelled lines; none for shading. */
    levels?: number[]
    labelOf?: (level: number) => string
    /** Lines in ink, to lie on a shaded field. */
    inked?: boolean
    velocity?: [Float32Array, Float32Array] | null
    arrows?: ArrowLook | null
    streamlines?: Streamlines | null
    /** By cell, 0 to 1, what streamlines are coloured by; plain ones without. */
    streamShare?: Float32Array | null
    streamMap?: string
    particles?: boolean
    grid?: boolean
  }>(),
  {
    levels: () => [],
    labelOf: String,
    velocity: null,
    arrows: null,
    streamlines: null,
    streamShare: null,
    streamMap: 'brook',
  },
)
const theme = useTheme()
const canvas = ref<HTMLCanvasElement | null>(null)
const overlay = ref<HTMLCanvasElement | null>(null)
const COLOURS = 16
/** Slower than this, ms, a picture is moved as it is while it is dragged, and painted when that ends. */
const AT_ONCE = 10
const SETTLED = 70
/** A particle takes about so long through the section, s. */
const CROSSING = 5

let ids: Int32Array | null = null
let image: ImageData | null = null
let frame = 0
let took = 0
/** The view the picture was painted for. */
const painted = shallowRef<Viewport | null>(null)
const palette = computed(() => Array.from({ length: COLOURS }, (_, i) => colourAt(props.streamMap, i / (COLOURS - 1))))
const ratio = () => window.devicePixelRatio
/** The size of the canvas in whole pixels of the screen, so that what is painted is not scaled. */
const whole = computed(() => ({
  width: `${Math.round(props.width * ratio()) / ratio()}px`,
  height: `${Math.round(props.height * ratio()) / ratio()}px`,
}))

/** While it waits to be painted anew, the picture is moved and stretched to where it belongs. */
const moved = computed(() => {
  const [from, to] = [painted.value, props.view]
  if (!from || !to || from === to) return undefined
  const [kx, ky] = [to.sx / from.sx, to.sy / from.sy]
  return `matrix(${kx}, 0, 0, ${ky}, ${to.ox - kx * from.ox}, ${to.oy - ky * from.oy})`
})

function schedule(): void {
  cancelAnimationFrame(frame)
  frame = requestAnimationFrame(() => rasteriseNow())
}
const later = useTimeoutFn(schedule, SETTLED, { immediate: false })

function rasteriseNow(): void {
  const element = canvas.value
  const view = props.view
  if (!element || !view) return
  const begun = performance.now()
  element.width = Math.round(props.width * ratio())
  element.height = Math.round(props.height * ratio())
  ids = props.mesh && !props.grid ? rasterise(props.mesh, view, element.width, element.height, ratio()) : null
  painted.value = view
  if (props.grid && props.mesh) drawGrid(element, props.mesh, view)
  else paintNow()
  took = performance.now() - begun
}

function drawGrid(element: HTMLCanvasElement, mesh: Polygons, view: Viewport): void {
  const context = element.getContext('2d')
  if (!context) return
  context.strokeStyle = theme.palette().ink
  context.globalAlpha = 0.5
  context.lineWidth = 0.6
  context.beginPath()
  for (let cell = 0; cell < mesh.cells; cell++) {
    for (let k = mesh.cellStart[cell]!; k < mesh.cellStart[cell + 1]!; k++) {
      const n = 2 * mesh.cellNodes[k]!
      const [x, y] = [toX(view, mesh.nodes[n]!) * ratio(), toY(view, mesh.nodes[n + 1]!) * ratio()]
      if (k === mesh.cellStart[cell]) context.moveTo(x, y)
      else context.lineTo(x, y)
    }
  }
  context.stroke()
  context.globalAlpha = 1
}

function paintNow(): void {
  const element = canvas.value
  const context = element?.getContext('2d')
  const view = painted.value
  if (!element || !context || !view || !ids?.length || !props.mesh) return
  context.clearRect(0, 0, element.width, element.height)
  if (props.shading && !props.levels.length) {
    // Kept from one picture to the next: a new one each time keeps the browser busy with clearing memory away.
    if (image?.width !== element.width || image.height !== element.height)
      image = context.createImageData(element.width, element.height)
    const out = new Uint32Array(image.data.buffer)
    colour(ids, element.width, props.shading, props.mesh.region, view, ratio(), props.paint, out)
    context.putImageData(image, 0, 0)
  }
  if (props.shading && props.levels.length) drawLevels(context, props.mesh, props.shading, view)
  const inks: [string, string] = props.levels.length
    ? [theme.palette().muted, theme.palette().sheet]
    : ['rgba(255,255,255,0.95)', 'rgba(0,0,0,0.45)']
  if (props.streamlines) {
    const share = props.streamShare
    const shade = (cell: number) => Math.min(COLOURS - 1, Math.floor((share![cell] ?? 0) * COLOURS))
    drawStreamlines(context, props.streamlines, view, ratio(), share ? shade : null, inks, palette.value)
    if (!props.particles) drawHeads(context, props.streamlines, view, ratio(), inks)
  }
  if (props.arrows && props.velocity) {
    const colours = props.arrows.coloured ? palette.value : []
    drawArrows(context, ids, element.width, element.height, ...props.velocity, view, ratio(), props.arrows, colours)
  }
}

function drawLevels(context: CanvasRenderingContext2D, mesh: Polygons, shading: Shading, view: Viewport): void {
  const lines = isolines(mesh, shading, props.levels, view, props.paint.hidden)
  const { low, high } = props.paint
  context.save()
  context.scale(ratio(), ratio())
  lines.forEach((segments, i) => {
    context.strokeStyle = props.inked ? theme.palette().ink : lineColour((props.levels[i]! - low) / (high > low ? high - low : 1))
    context.lineWidth = props.inked ? 0.9 : 1.5
    context.beginPath()
    for (const [x0, y0, x1, y1] of segments) {
      context.moveTo(x0, y0)
      context.lineTo(x1, y1)
    }
    context.stroke()
  })
  context.font = '500 11px "IBM Plex Sans", sans-serif'
  context.textAlign = 'center'
  context.textBaseline = 'middle'
  for (const label of isoLabels(lines, props.levels, props.width, props.height)) {
    context.save()
    context.translate(label.x, label.y)
    context.rotate(label.turn)
    context.lineWidth = 4
    context.strokeStyle = theme.palette().sheet
    context.strokeText(props.labelOf(label.level), 0, 0)
    context.fillStyle = theme.palette().ink
    context.fillText(props.labelOf(label.level), 0, 0)
    context.restore()
  }
  context.restore()
}

/** Colours of lines keep clear of the colour of the paper. */
const lineColour = (share: number) => colourAt(props.map, theme.name === 'light' ? 0.08 + 0.72 * share : 0.28 + 0.72 * share)

// Particles run on a canvas of their own.
let begun = 0
const run = useRafFn(
  ({ timestamp }) => {
    const element = overlay.value
    const context = element?.getContext('2d')
    const [lines, view] = [props.streamlines, props.view]
    if (!element || !context) return
    if (element.width !== Math.round(props.width * ratio())) element.width = Math.round(props.width * ratio())
    if (element.height !== Math.round(props.height * ratio())) element.height = Math.round(props.height * ratio())
    context.clearRect(0, 0, element.width, element.height)
    if (!lines || !view) return
    begun ||= timestamp
    const whole = crossing.value
    context.fillStyle = '#fff'
    context.strokeStyle = 'rgba(0,0,0,0.7)'
    context.lineWidth = ratio()
    for (const [x, y] of particlesAt(lines, ((timestamp - begun) / 1000 / CROSSING) * whole, whole / 6)) {
      context.beginPath()
      context.arc(toX(view, x) * ratio(), toY(view, y) * ratio(), 2.2 * ratio(), 0, 2 * Math.PI)
      context.fill()
      context.stroke()
    }
  },
  { immediate: false },
)
/** The time that most lines take through the section. */
const crossing = computed(() => {
  const lines = props.streamlines
  if (!lines) return 1
  const spans = Array.from({ length: lines.start.length - 1 }, (_, i) => {
    const last = lines.start[i + 1]! - 1
    return (lines.time[last] ?? 0) - (lines.time[lines.start[i]!] ?? 0)
  }).sort((a, b) => a - b)
  return spans[spans.length >> 1] || 1
})
watch(
  () => props.particles && props.streamlines !== null,
  (on) => {
    if (on) run.resume()
    else {
      run.pause()
      overlay.value?.getContext('2d')?.clearRect(0, 0, overlay.value.width, overlay.value.height)
    }
  },
  { flush: 'post' },
)

watch(
  () => props.view,
  (now, before) => {
    if (now && before && ids && took > AT_ONCE) later.start()
    else schedule()
  },
  { flush: 'post' },
)
watch([() => props.mesh, () => props.width, () => props.height, () => props.grid, () => theme.name], schedule, { flush: 'post' })
watch(
  () => [
    props.shading,
    props.paint,
    props.levels,
    props.arrows,
    props.velocity,
    props.streamlines,
    props.streamShare,
    props.streamMap,
    props.particles,
  ],
  () => {
    cancelAnimationFrame(frame)
    frame = requestAnimationFrame(() => (ids && !props.grid && painted.value === props.view ? paintNow() : rasteriseNow()))
  },
)
onMounted(() => {
  schedule()
  if (props.particles && props.streamlines) run.resume()
})
onBeforeUnmount(() => cancelAnimationFrame(frame))

/** The cell that is painted at a place on the screen; -1 where there is none. */
function cellAt(x: number, y: number): number {
  const width = Math.round(props.width * ratio())
  return ids?.[Math.floor(y * ratio()) * width + Math.floor(x * ratio())] ?? -1
}

/** The cells that are painted now, but for those of hidden regions. */
function cellsInView(): Set<number> {
  const cells = new Set<number>()
  for (const cell of ids ?? []) if (cell >= 0) cells.add(cell)
  const region = props.mesh?.region
  return new Set([...cells].filter((cell) => !region || !props.paint.hidden[region[cell]!]))
}

defineExpose({ cellAt, cellsInView, canvas, paintNow: rasteriseNow })
</script>

<template>
  <div class="field" :style="{ width: `${width}px`, height: `${height}px` }">
    <canvas ref="canvas" class="layer" :style="{ ...whole, transform: moved }"></canvas>
    <canvas ref="overlay" class="layer" :style="whole"></canvas>
  </div>
</template>

<style scoped>
.field {
  position: absolute;
  inset: 0;
  overflow: hidden;
  pointer-events: none;
}
.layer {
  position: absolute;
  inset: 0;
  transform-origin: 0 0;
}
</style>
