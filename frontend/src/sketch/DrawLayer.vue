<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, ref } from 'vue'

import type { Sketch } from '../api/client'
import { useCase } from '../stores/case'
import { useDrawing } from '../stores/drawing'
import { addPart, anchors, boxOf, shapeFrom, snap, stepOf, type Anchor, type Spot, type Ties } from './place'
import { placedAt, type Edge } from './ties'
import { back, type Up } from './upright'
import { fromX, fromY, toX, toY, type Viewport } from './viewport'
import { mm, shifted } from './written'

/** The drawing tools on the sketch: choose and drag parts, place new ones, snapping to other parts and to a step. */
const props = defineProps<{
  view: Viewport
  sketch: Sketch
  width: number
  height: number
  /** Which way is up along the axis of a section that stands. */
  up?: Up | null
}>()
/** A place, or a way, on the drawing as one of the section. */
const inSection = (spot: Spot): Spot => (props.up ? back(spot, props.up) : spot)
const theCase = useCase()
const drawing = useDrawing()

const REACH = 8
const surface = ref<SVGRectElement | null>(null)
const spots = ref<Spot[]>([])
const hover = ref<Spot | null>(null)
/** How the spots are written in the section, where they lie on what other parts' dimensions say. */
const ties = ref<Ties[]>([])
const caught = ref<{ x: Anchor | null; y: Anchor | null }>({ x: null, y: null })
/** An edge of what is dragged, on an anchor. */
interface Touch {
  anchor: Anchor
  edge: Edge
}
const drag = ref<{ origin: string; from: Spot; by: Spot; on: [Touch | null, Touch | null]; moved: boolean } | null>(null)

const step = computed(() => drawing.step || stepOf(props.sketch))
const clicks = computed(() => drawing.tool === 'polygon' || drawing.tool === 'curve')
const chosen = computed(() => theCase.document?.section.parts[drawing.part]?.name ?? '')
const shape = (loops: number[][][], by: Spot = [0, 0]) =>
  loops
    .map((loop) => `M${loop.map((p) => `${toX(props.view, p[0]! + by[0])},${toY(props.view, p[1]! + by[1])}`).join('L')}Z`)
    .join('')
const outlines = computed(() => props.sketch.outlines)

function spotOf(event: PointerEvent | MouseEvent): Spot {
  const box = surface.value!.ownerSVGElement!.getBoundingClientRect()
  return [fromX(props.view, event.clientX - box.left), fromY(props.view, event.clientY - box.top)]
}

const around = (without: string) => anchors(props.sketch, without, theCase.document?.section.parts ?? [], props.up ?? null)
/** How the spot that was just snapped is written along the axes of the section. */
const tie = (): Ties => {
  const [across, along] = [caught.value.x?.text ?? null, caught.value.y?.text ?? null]
  return props.up ? { x: along, y: across } : { x: across, y: along }
}

/** A spot on anchors of other parts or on the step; with Alt as it is. */
function snapped(spot: Spot, event: MouseEvent, without = ''): Spot {
  if (event.altKey) {
    caught.value = { x: null, y: null }
    return spot
  }
  const others = around(without)
  const x = snap(spot[0], others.x, REACH / props.view.sx, step.value)
  const y = snap(spot[1], others.y, REACH / props.view.sy, step.value)
  caught.value = { x: x.anchor, y: y.anchor }
  return [x.value, y.value]
}

function press(event: PointerEvent): void {
  event.stopPropagation()
  const spot = snapped(spotOf(event), event)
  if (clicks.value) {
    const first = spots.value[0]
    const near =
      first &&
      Math.hypot(toX(props.view, first[0]) - toX(props.view, spot[0]), toY(props.view, first[1]) - toY(props.view, spot[1])) < REACH
    if (near && spots.value.length >= 3) finish()
    else {
      spots.value = [...spots.value, spot]
      ties.value = [...ties.value, tie()]
    }
  } else {
    surface.value!.setPointerCapture(event.pointerId)
    spots.value = [spot]
    ties.value = [tie()]
  }
}

function move(event: PointerEvent): void {
  hover.value = snapped(spotOf(event), event)
}

function release(): void {
  if (clicks.value || !spots.value.length || !hover.value) return
  let end = hover.value
  const last = tie()
  const [x, y] = spots.value[0]!
  // A click without a drag places a shape of a fair size, to be typed exactly.
  if (Math.hypot(end[0] - x, end[1] - y) < 1e-12) end = [x + 10 * step.value, y + 5 * step.value]
  if (drawing.tool === 'rectangle' && (end[0] === x || end[1] === y))
    end = [end[0] === x ? x + step.value : end[0], end[1] === y ? y + step.value : end[1]]
  const kept = end === hover.value
  spots.value = [spots.value[0]!, end]
  ties.value = [ties.value[0]!, kept ? last : { x: null, y: null }]
  finish()
}

function finish(): void {
  const tool = drawing.tool
  if (!tool || (clicks.value && spots.value.length < 3)) return
  const { shape: made, angle } = shapeFrom(tool, spots.value.map(inSection), ties.value)
  theCase.edit('section.parts.add', (d) => (drawing.part = addPart(d, made, angle)))
  drawing.tool = ''
  spots.value = []
  ties.value = []
}

/** Without a mouse: a shape of a fair size in the middle of the section, to be moved and sized by its numbers. */
function placeInTheMiddle(): void {
  const [x0, y0, x1, y1] = props.sketch.bounds as [number, number, number, number]
  const round = (value: number) => Math.round(value / step.value) * step.value
  const [x, y, size] = [round(0.5 * (x0 + x1)), round(0.5 * (y0 + y1)), 10 * step.value]
  const corner: Spot = [x + size, y + size / 2]
  spots.value = clicks.value ? [[x, y], [x + size, y], corner] : [[x, y], corner]
  ties.value = []
  finish()
}

function giveUp(): void {
  drawing.tool = ''
  spots.value = []
  ties.value = []
  drag.value = null
}

function choose(origin: string, event: PointerEvent): void {
  event.stopPropagation()
  if (event.button !== 0) return
  const index = theCase.document?.section.parts.findIndex((p) => p.name === origin) ?? -1
  if (index < 0) return
  drawing.part = index
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  drag.value = { origin, from: spotOf(event), by: [0, 0], on: [null, null], moved: false }
}

/** Move the chosen part so that one of its ends or its middle comes to lie on an anchor, or by whole steps. */
function pull(event: PointerEvent): void {
  const now = drag.value
  if (!now) return
  const spot = spotOf(event)
  const raw: Spot = [spot[0] - now.from[0], spot[1] - now.from[1]]
  if (!now.moved && Math.hypot(raw[0] * props.view.sx, raw[1] * props.view.sy) < 4) return
  const own = outlines.value.find((o) => o.origin === now.origin)
  if (!own) return
  const box = boxOf(own.loops.flat())
  const others = around(now.origin)
  const along = (low: number, high: number, by: number, candidates: Anchor[], scale: number): [number, Touch | null] => {
    if (event.altKey) return [by, null]
    const tries = [low, 0.5 * (low + high), high].flatMap((place, edge) => {
      const { anchor, value } = snap(place + by, candidates, REACH / scale, 0)
      return anchor ? [{ by: value - place, touch: { anchor, edge: edge as Edge } }] : []
    })
    const best = tries.sort((a, b) => Math.abs(a.by - by) - Math.abs(b.by - by))[0]
    return best ? [best.by, best.touch] : [Math.round(by / step.value) * step.value, null]
  }
  const [dx, ax] = along(box.x0, box.x1, raw[0], others.x, props.view.sx)
  const [dy, ay] = along(box.y0, box.y1, raw[1], others.y, props.view.sy)
  caught.value = { x: ax?.anchor ?? null, y: ay?.anchor ?? null }
  drag.value = { ...now, by: [dx, dy], on: [ax, ay], moved: true }
}

/** Edges on the drawing as edges along x and y of the section. */
function onEdges([across, along]: [Touch | null, Touch | null]): [Touch | null, Touch | null] {
  if (!props.up) return [across, along]
  return [along && props.up === -1 ? { ...along, edge: (2 - along.edge) as Edge } : along, across]
}

function drop(): void {
  const now = drag.value
  drag.value = null
  caught.value = { x: null, y: null }
  if (!now?.moved || (now.by[0] === 0 && now.by[1] === 0)) return
  theCase.edit(`section.parts.move ${now.origin} ${Date.now()}`, (d) => {
    const part = d.section.parts.find((p) => p.name === now.origin)
    if (!part) return
    const [dx, dy] = inSection(now.by)
    const [x, y] = onEdges(now.on)
    const at = (axis: 'x' | 'y', touch: Touch | null, by: number) =>
      (touch?.anchor.text && placedAt(part, axis, touch.edge, touch.anchor.text)) || shifted(part.shape[axis] ?? '0 m', by)
    ;[part.shape.x, part.shape.y] = [at('x', x, dx), at('y', y, dy)]
  })
}

const preview = computed(() => {
  if (!spots.value.length || !hover.value) return ''
  const v = props.view
  const [x0, y0] = [toX(v, spots.value[0]![0]), toY(v, spots.value[0]![1])]
  const [x1, y1] = [toX(v, hover.value[0]), toY(v, hover.value[1])]
  if (clicks.value) return `M${[...spots.value, hover.value].map((p) => `${toX(v, p[0])},${toY(v, p[1])}`).join('L')}`
  if (drawing.tool === 'rectangle') return `M${x0},${y0}H${x1}V${y1}H${x0}Z`
  if (drawing.tool === 'blade') return `M${x0},${y0}L${x1},${y1}`
  const reach = Math.hypot(hover.value[0] - spots.value[0]![0], hover.value[1] - spots.value[0]![1])
  const [rx, ry] = [reach * v.sx, reach * v.sy]
  return `M${x0 - rx},${y0}a${rx},${ry} 0 1 0 ${2 * rx},0a${rx},${ry} 0 1 0 ${-2 * rx},0Z`
})
const said = computed(() => {
  if (drag.value?.moved) return `moved by ${inSection(drag.value.by).map(mm).join(', ')}`
  const [a, b] = [spots.value.at(-1), hover.value]
  if (!b) return ''
  if (!a) return inSection(b).map(mm).join(', ')
  if (drawing.tool === 'rectangle') return `${mm(Math.abs(b[0] - a[0]))} × ${mm(Math.abs(b[1] - a[1]))}`
  const reach = Math.hypot(b[0] - a[0], b[1] - a[1])
  return drawing.tool === 'circle' || drawing.tool === 'ring' ? `diameter ${mm(2 * reach)}` : mm(reach)
})
const saidAt = computed(
  () =>
    hover.value ?? (drag.value ? ([drag.value.from[0] + drag.value.by[0], drag.value.from[1] + drag.value.by[1]] as Spot) : null),
)

function key(event: KeyboardEvent): void {
  if (event.target instanceof HTMLElement && ['INPUT', 'TEXTAREA', 'SELECT'].includes(event.target.tagName)) return
  if (event.key === 'Escape') giveUp()
  else if (event.key === 'Enter' && drawing.tool && !spots.value.length) placeInTheMiddle()
  else if (event.key === 'Enter' && drawing.tool && clicks.value) finish()
  else return
  event.preventDefault()
}
useEventListener(window, 'keydown', key)
onBeforeUnmount(() => {
  drawing.tool = ''
})
</script>

<template>
  <g class="draw">
    <path
      v-for="o in outlines"
      :key="o.name"
      :d="shape(o.loops)"
      :class="['body', { chosen: o.origin === chosen, void: o.void }]"
      fill-rule="evenodd"
      :data-outline="o.name"
      @pointerdown="choose(o.origin, $event)"
      @pointermove="pull"
      @pointerup="drop"
    >
      <title>{{ o.name }}</title>
    </path>
    <template v-if="drag?.moved">
      <path
        v-for="o in outlines.filter((o) => o.origin === drag!.origin)"
        :key="`moving ${o.name}`"
        :d="shape(o.loops, drag.by)"
        class="preview"
      />
    </template>
    <rect
      v-if="drawing.tool"
      ref="surface"
      class="surface"
      x="0"
      y="0"
      :width="width"
      :height="height"
      data-test="drawing-surface"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
      @dblclick.stop="finish"
    />
    <rect v-else ref="surface" width="0" height="0" />
    <path v-if="preview" :d="preview" class="preview" />
    <line
      v-if="caught.x !== null && (drawing.tool || drag?.moved)"
      class="guide"
      :x1="toX(view, caught.x.value)"
      :x2="toX(view, caught.x.value)"
      y1="0"
      :y2="height"
    />
    <line
      v-if="caught.y !== null && (drawing.tool || drag?.moved)"
      class="guide"
      :y1="toY(view, caught.y.value)"
      :y2="toY(view, caught.y.value)"
      x1="0"
      :x2="width"
    />
    <text
      v-if="said && saidAt && (drawing.tool || drag?.moved)"
      class="said"
      :x="toX(view, saidAt[0]) + 14"
      :y="toY(view, saidAt[1]) - 8"
      >{{ said }}</text
    >
  </g>
</template>

<style scoped>
.body {
  fill: transparent;
  stroke: none;
  cursor: move;
  pointer-events: all;
}
.body.void {
  stroke: var(--muted);
  stroke-dasharray: 2 4;
}
.body.chosen {
  stroke: var(--select);
  stroke-width: 2.5;
  stroke-dasharray: none;
}
.body:hover {
  fill: var(--select);
  fill-opacity: 0.07;
}
.surface {
  fill: transparent;
  cursor: crosshair;
  pointer-events: all;
}
.preview {
  fill: var(--select);
  fill-opacity: 0.1;
  stroke: var(--select);
  stroke-width: 1.5;
  stroke-dasharray: 5 3;
  pointer-events: none;
}
.guide {
  stroke: var(--heat);
  stroke-width: 1;
  stroke-dasharray: 2 3;
  pointer-events: none;
}
.said {
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 4;
  pointer-events: none;
  font-weight: 600;
}
</style>
