<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, ref } from 'vue'

import type { Sketch } from '../api/client'
import { useCase } from '../stores/case'
import { useLines } from '../stores/lines'
import { useLook } from '../stores/look'
import { useProbes } from '../stores/probes'
import { anchors, snap, stepOf, type Spot, type Ties } from './place'
import { back, type Up } from './upright'
import { fromX, fromY, toX, toY, type Viewport } from './viewport'
import { mm } from './written'

/** The lines and probes of the case on the drawing, and the tools that place new ones, snapping as parts do. */
const props = defineProps<{ view: Viewport; sketch: Sketch; width: number; height: number; up: Up | null }>()
const theCase = useCase()
const lines = useLines()
const look = useLook()
const probes = useProbes()
const REACH = 8
const surface = ref<SVGRectElement | null>(null)
const start = ref<{ spot: Spot; tie: Ties } | null>(null)
const hover = ref<{ spot: Spot; tie: Ties } | null>(null)

const drawnAt = (x: number, y: number): Spot => (props.up ? [y, props.up * x] : [x, y])
const inSection = (spot: Spot): Spot => (props.up ? back(spot, props.up) : spot)
const onScreen = (x: number, y: number): Spot => {
  const [a, b] = drawnAt(x, y)
  return [toX(props.view, a), toY(props.view, b)]
}

const laid = computed(() =>
  lines.lines.flatMap((line) => {
    const places = lines.placeOf(line)
    if (!places.length) return []
    const paths = places.map((p) => {
      const step = Math.max(1, Math.floor(p.x.length / 200))
      const spots: Spot[] = []
      for (let k = 0; k < p.x.length; k += step) spots.push(onScreen(p.x[k]!, p.y[k]!))
      spots.push(onScreen(p.x[p.x.length - 1]!, p.y[p.y.length - 1]!))
      return spots
    })
    const end = paths.at(-1)!.at(-1)!
    return [
      {
        name: line.name,
        d: paths.map((spots) => `M${spots.map((s) => s.join()).join('L')}`).join(''),
        end: [Math.min(Math.max(end[0], 30), props.width - 30), Math.min(Math.max(end[1] - 6, 14), props.height - 6)],
        plotted: lines.plotted.includes(line.name),
        chosen: lines.chosen === line.name,
      },
    ]
  }),
)
interface Mark {
  name: string
  x: number
  y: number
  box: { x: number; y: number; width: number; height: number } | null
}
const marks = computed(() =>
  probes.found.flatMap((found): Mark[] => {
    if (found.place.length === 2) {
      const [x, y] = onScreen(found.place[0]!, found.place[1]!)
      return [{ name: found.name, x, y, box: null }]
    }
    if (found.place.length !== 4) return []
    const [x0, y0] = onScreen(found.place[0]!, found.place[1]!)
    const [x1, y1] = onScreen(found.place[2]!, found.place[3]!)
    const box = { x: Math.min(x0, x1), y: Math.min(y0, y1), width: Math.abs(x1 - x0), height: Math.abs(y1 - y0) }
    return [{ name: found.name, x: box.x + 4, y: box.y + 12, box }]
  }),
)

const candidates = computed(() => anchors(props.sketch, '', theCase.document?.section.parts ?? [], props.up))

function at(event: PointerEvent): { spot: Spot; tie: Ties } {
  const box = surface.value!.ownerSVGElement!.getBoundingClientRect()
  const raw: Spot = [fromX(props.view, event.clientX - box.left), fromY(props.view, event.clientY - box.top)]
  if (event.altKey) return { spot: raw, tie: { x: null, y: null } }
  const step = stepOf(props.sketch)
  // A line may keep level with where it began.
  const from = start.value?.spot
  const level = (axis: 0 | 1) => (from ? [{ value: from[axis], text: null }] : [])
  const x = snap(raw[0], [...candidates.value.x, ...level(0)], REACH / props.view.sx, step)
  const y = snap(raw[1], [...candidates.value.y, ...level(1)], REACH / props.view.sy, step)
  const [across, along] = [x.anchor?.text ?? null, y.anchor?.text ?? null]
  return { spot: [x.value, y.value], tie: props.up ? { x: along, y: across } : { x: across, y: along } }
}

const written = (place: { spot: Spot; tie: Ties }): [string, string] => {
  const [x, y] = inSection(place.spot)
  return [place.tie.x ?? mm(x), place.tie.y ?? mm(y)]
}

function press(event: PointerEvent): void {
  event.stopPropagation()
  const here = at(event)
  if (lines.tool === 'point') {
    const [x, y] = written(here)
    probes.add({ type: 'point', x, y }, 'point')
    lines.tool = ''
  } else if (lines.tool === 'seed') {
    look.seedPoints = [...look.seedPoints, inSection(here.spot)]
  } else {
    surface.value!.setPointerCapture(event.pointerId)
    start.value = here
    hover.value = here
  }
}

function move(event: PointerEvent): void {
  hover.value = at(event)
}

function release(): void {
  const [from, to] = [start.value, hover.value]
  start.value = null
  if (!from || !to) return
  const reach = Math.hypot((to.spot[0] - from.spot[0]) * props.view.sx, (to.spot[1] - from.spot[1]) * props.view.sy)
  if (reach < 3) return
  const [[x0, y0], [x1, y1]] = [written(from), written(to)]
  if (lines.tool === 'straight') lines.add({ type: 'straight', x0, y0, x1, y1 })
  else if (lines.tool === 'arc') {
    const radius = Math.hypot(to.spot[0] - from.spot[0], to.spot[1] - from.spot[1])
    lines.add({ type: 'arc', x: x0, y: y0, radius: mm(radius), begin: '0 deg', end: '360 deg' }, 'arc')
  } else if (lines.tool === 'box') {
    const [a, b] = [inSection(from.spot), inSection(to.spot)]
    const ordered = (axis: 0 | 1, p: string, q: string) => (a[axis] <= b[axis] ? [p, q] : [q, p])
    const [left, right] = ordered(0, x0, x1)
    const [low, high] = ordered(1, y0, y1)
    probes.add({ type: 'box', x0: left!, y0: low!, x1: right!, y1: high! }, 'box')
    lines.tool = ''
  }
}

const preview = computed(() => {
  const [from, to] = [start.value?.spot, hover.value?.spot]
  if (!from || !to) return ''
  const [x0, y0, x1, y1] = [toX(props.view, from[0]), toY(props.view, from[1]), toX(props.view, to[0]), toY(props.view, to[1])]
  if (lines.tool === 'box') return `M${x0},${y0}H${x1}V${y1}H${x0}Z`
  if (lines.tool !== 'arc') return `M${x0},${y0}L${x1},${y1}`
  const reach = Math.hypot(to[0] - from[0], to[1] - from[1])
  const [rx, ry] = [reach * props.view.sx, reach * props.view.sy]
  return `M${x0 - rx},${y0}a${rx},${ry} 0 1 0 ${2 * rx},0a${rx},${ry} 0 1 0 ${-2 * rx},0Z`
})
const said = computed(() => (lines.tool && hover.value ? written(hover.value).join(', ') : ''))

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key === 'Escape' && lines.tool) {
    lines.tool = ''
    start.value = null
  }
})
onBeforeUnmount(() => (lines.tool = ''))
</script>

<template>
  <g class="lines">
    <g v-for="line in laid" :key="line.name" :class="{ plotted: line.plotted, chosen: line.chosen }" :data-line="line.name">
      <path :d="line.d" class="rim" />
      <path :d="line.d" class="line" />
      <text v-if="line.plotted || line.chosen" :x="line.end[0]" :y="line.end[1]" text-anchor="middle">{{ line.name }}</text>
    </g>
    <g v-for="mark in marks" :key="mark.name" class="mark" :data-probe="mark.name">
      <rect v-if="mark.box" v-bind="mark.box" />
      <path v-else :d="`M${mark.x - 6},${mark.y}h12M${mark.x},${mark.y - 6}v12`" class="rim" />
      <path v-if="!mark.box" :d="`M${mark.x - 6},${mark.y}h12M${mark.x},${mark.y - 6}v12`" />
      <text :x="mark.box ? mark.x : mark.x + 8" :y="mark.box ? mark.y : mark.y - 4">{{ mark.name }}</text>
    </g>
    <g v-if="look.streamStart === 'point'" class="mark">
      <circle v-for="(seed, i) in look.seedPoints" :key="i" :cx="onScreen(...seed)[0]" :cy="onScreen(...seed)[1]" r="4" />
    </g>
    <rect
      v-if="lines.tool"
      ref="surface"
      class="surface"
      x="0"
      y="0"
      :width="width"
      :height="height"
      data-test="line-surface"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
    />
    <path v-if="preview" :d="preview" class="preview" />
    <text v-if="said && hover" class="said" :x="toX(view, hover.spot[0]) + 14" :y="toY(view, hover.spot[1]) - 8">{{ said }}</text>
  </g>
</template>

<style scoped>
.lines {
  pointer-events: none;
}
path {
  fill: none;
}
.rim {
  stroke: #fff;
  stroke-opacity: 0.75;
  stroke-width: 4;
}
.line {
  stroke: #16212a;
  stroke-width: 1.2;
  stroke-dasharray: 5 3;
}
.plotted .line {
  stroke-width: 1.8;
  stroke-dasharray: none;
}
.chosen .line {
  stroke: #a8430f;
  stroke-width: 2.2;
}
text {
  fill: #16212a;
  stroke: #fff;
  stroke-width: 3.5;
  paint-order: stroke;
  font-size: 11.5px;
  font-weight: 600;
}
.mark path:not(.rim),
.mark rect,
.mark circle {
  fill: none;
  stroke: #16212a;
  stroke-width: 1.5;
}
.mark rect {
  stroke-dasharray: 4 2;
  fill: rgb(255 255 255 / 12%);
}
.surface {
  fill: transparent;
  cursor: crosshair;
  pointer-events: all;
}
.preview {
  stroke: var(--select);
  stroke-width: 2;
  stroke-dasharray: 5 3;
}
.said {
  fill: var(--ink);
  stroke: var(--sheet);
  font-weight: 600;
}
</style>
