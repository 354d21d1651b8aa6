<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'

import { useUnits } from '../quantity/units'
import { useCase } from '../stores/case'
import { useLook } from '../stores/look'
import { useReading } from '../stores/reading'
import { useWalls } from '../stores/walls'
import ArrowKey from './ArrowKey.vue'
import DrawLayer from './DrawLayer.vue'
import FieldCanvas from './FieldCanvas.vue'
import InternalsLayer from './InternalsLayer.vue'
import LineLayer from './LineLayer.vue'
import SketchLabels from './SketchLabels.vue'
import WallLayer from './WallLayer.vue'
import { boxOfCopies, type Copy } from './copies'
import { placeDimensions, roomBelow } from './dimensions'
import { flagsOf, linePath, type Flag } from './flags'
import { labelling } from './labelling'
import { turnedStreamlines } from './streams'
import { back, turnedCopy, turnedMesh, turnedShading, turnedSketch, upOf, type Up } from './upright'
import { fit, fromX, fromY, ringsPath, toX, toY, zoom, type Box, type Viewport } from './viewport'

/** The section to scale, with dimension labels, flags, and the grid or a field laid into it. */
const props = withDefaults(defineProps<{ mode?: 'plain' | 'grid' | 'field'; still?: boolean; draw?: boolean; reads?: boolean }>(), {
  mode: 'plain',
  still: false,
  draw: false,
  reads: false,
})
const emit = defineEmits<{ condition: [boundary: string] }>()

const theCase = useCase()
const reading = useReading()
const walls = useWalls()
const units = useUnits()
const look = useLook()

const host = ref<HTMLElement | null>(null)
const field = ref<InstanceType<typeof FieldCanvas> | null>(null)
const size = ref({ width: 0, height: 0 })
/** What was chosen: the same scale both ways, or stretched where it is slender; a section that stands keeps its shape. */
const scaleChosen = ref<boolean | null>(null)
const moved = shallowRef<Viewport | null>(null)
const cursor = ref<{ x: number; y: number } | null>(null)
const box = ref<Box | null>(null)

/** Whether a section that can stand is laid down. */
const laid = ref(false)
const canStand = computed(() => upOf(theCase.document))
const up = computed<Up | null>(() => (laid.value ? null : canStand.value))
const toScale = computed(() => scaleChosen.value ?? up.value !== null)
const sketch = computed(() => (theCase.sketch && up.value ? turnedSketch(theCase.sketch, up.value) : theCase.sketch))
const bounds = computed<Box | null>(() => {
  const b = sketch.value?.bounds
  return b ? { x0: b[0]!, y0: b[1]!, x1: b[2]!, y1: b[3]! } : null
})
/** Where a field is read it can lie in the drawing several times: the section itself comes first. */
const copies = computed<Copy[]>(() =>
  props.mode === 'field' && reading.mesh ? reading.copies.map((c) => (up.value ? turnedCopy(c, up.value) : c)) : [],
)
const repeated = computed(() => copies.value.length > 1)
const drawn = computed<Box | null>(() => (bounds.value && repeated.value ? boxOfCopies(bounds.value, copies.value) : bounds.value))
const placed = (c: Copy) => {
  const v = view.value!
  return `matrix(${c.fx} 0 0 ${c.fy} ${v.ox - c.fx * v.ox + v.sx * c.dx} ${v.oy - c.fy * v.oy - v.sy * c.dy})`
}
const margin = computed<Box>(() =>
  props.still
    ? { x0: 118, y0: 20, x1: 118, y1: roomBelow(sketch.value, 26) }
    : { x0: 140, y0: 30, x1: 140, y1: roomBelow(sketch.value, 24) },
)
const view = computed<Viewport | null>(() => {
  if (!drawn.value || !size.value.width) return null
  return moved.value ?? fit(drawn.value, size.value.width, size.value.height, margin.value, toScale.value)
})
const stretch = computed(() => (view.value ? view.value.sy / view.value.sx : 1))
const times = (factor: number) => Number(factor.toPrecision(3))
const stretched = computed(() => Math.abs(stretch.value - 1) > 0.01)
const mesh = computed(() => {
  const shown = props.mode === 'field' ? reading.mesh : props.mode === 'grid' ? (reading.grid?.mesh ?? null) : null
  return shown && up.value ? turnedMesh(shown, up.value) : shown
})
const shading = computed(() => (look.shading && up.value ? turnedShading(look.shading, up.value) : look.shading))
const streamlines = computed(() =>
  look.streamlines && up.value ? turnedStreamlines(look.streamlines, up.value) : look.streamlines,
)
/** Speeds to the right and up on the drawing. */
const velocity = computed<[Float32Array, Float32Array] | null>(() => {
  const [u, w] = reading.velocity
  if (!u || !w) return null
  const way = up.value
  return way ? [w.values, way === 1 ? u.values : u.values.map((speed) => -speed)] : [u.values, w.values]
})
const labelOf = (level: number) => String(Number(units.shown(level, reading.field?.kind ?? 'number').toPrecision(6)))
/** A place of the section where it is drawn. */
const drawnAt = (x: number, y: number): [number, number] => (up.value ? [y, up.value * x] : [x, y])

// Where values stand on the walls there is no room for what is given there.
const onWalls = computed(() => props.mode === 'field' && walls.walls.length > 0)
const flags = computed(() => (view.value && sketch.value && !onWalls.value ? flagsOf(view.value, sketch.value) : []))
/** Flags that only say what nobody needs to be told keep quiet until asked. */
const AT_SEAMS = ['upstream', 'downstream', 'symmetry']
const loud = (flag: Flag) =>
  props.mode !== 'grid' &&
  (flag.boundary.kind !== 'adiabatic' || selected(flag.boundary)) &&
  !(repeated.value && AT_SEAMS.includes(flag.boundary.kind))
const dimensions = computed(() =>
  view.value && sketch.value && bounds.value && !repeated.value && !onWalls.value
    ? placeDimensions(view.value, sketch.value, bounds.value, props.still ? 28 : 24)
    : [],
)
/** Problems that have a place stand there. */
const troubles = computed(() =>
  props.still
    ? []
    : [...theCase.problems, ...(theCase.runError?.problems ?? []), ...(props.mode === 'grid' ? reading.gridProblems : [])].filter(
        (p) => p.at,
      ),
)
const worst = computed(() =>
  props.mode === 'grid'
    ? (reading.grid?.worst ?? []).filter((w) => w.measure === reading.shownWorst).map((w) => drawnAt(w.x, w.y))
    : [],
)

const selected = (boundary: { name: string; general: string }) =>
  theCase.picked.includes(boundary.name) || theCase.picked.includes(boundary.general)

function select(name: string, event: MouseEvent | KeyboardEvent): void {
  if (props.still) return
  if (event.shiftKey) {
    theCase.picked = theCase.picked.includes(name) ? theCase.picked.filter((n) => n !== name) : [...theCase.picked, name]
  } else {
    theCase.picked = [name]
  }
  emit('condition', name)
}

/** Width of the buttons at the upper right. */
const CORNER = 330
/** The axis of an axisymmetric section, across the drawing. */
const axis = computed<[[number, number], [number, number]] | null>(() => {
  if (!view.value || !sketch.value?.axisymmetric) return null
  const [x, y] = [toX(view.value, 0), toY(view.value, 0)]
  return up.value
    ? [
        [x, 0],
        [x, size.value.height],
      ]
    : [
        [0, y],
        [size.value.width, y],
      ]
})
/** Labels on the drawing, each where it covers nothing. */
const labels = computed(() =>
  view.value && sketch.value
    ? labelling({
        view: view.value,
        size: size.value,
        sketch: sketch.value,
        flags: flags.value.filter(loud),
        dimensions: props.mode === 'grid' ? [] : dimensions.value,
        named: props.mode === 'plain',
        beside: axis.value ? [axis.value] : [],
        corner: props.still ? 0 : CORNER,
      })
    : null,
)
const standing = (spot: { x: number; y: number }) => ({ left: `${spot.x}px`, top: `${spot.y}px` })

/** What lies under the cursor. */
const under = computed(() => {
  const v = view.value
  const c = cursor.value
  if (!v || !c) return null
  const spot: [number, number] = [fromX(v, c.x), fromY(v, c.y)]
  const [x, y] = up.value ? back(spot, up.value) : spot
  const place = `x ${units.withUnit(x, 'length', 4)}   y ${units.withUnit(y, 'length', 4)}`
  const cell = field.value?.cellAt(c.x, c.y) ?? -1
  if (props.mode !== 'field' || cell < 0 || !reading.field || !reading.mesh) return { place, part: '', value: '' }
  const value = reading.field.values[cell]!
  const part = sketch.value?.parts[reading.mesh.region[cell]!]?.name ?? ''
  return { place, part, value: Number.isNaN(value) ? '' : `${reading.field.name} ${units.withUnit(value, reading.field.kind, 5)}` }
})

watch(
  [view, up],
  () => {
    if (view.value) look.stretch = up.value ? 1 : view.value.sy / view.value.sx
  },
  { immediate: true },
)
/** What is in view of the section, for a view that is kept; and back. */
watch(moved, (now) => {
  if (props.still || !props.reads) return
  const corners = now && [placeOn(0, size.value.height, now), placeOn(size.value.width, 0, now)]
  look.window = corners && [
    Math.min(corners[0]![0], corners[1]![0]),
    Math.min(corners[0]![1], corners[1]![1]),
    Math.max(corners[0]![0], corners[1]![0]),
    Math.max(corners[0]![1], corners[1]![1]),
  ]
})
const placeOn = (px: number, py: number, v: Viewport): [number, number] => {
  const spot: [number, number] = [fromX(v, px), fromY(v, py)]
  return up.value ? back(spot, up.value) : spot
}
watch(
  () => look.wanted,
  (wish) => {
    if (props.still || !wish) return
    if (!wish.box) return whole()
    const [a, b] = [drawnAt(wish.box[0]!, wish.box[1]!), drawnAt(wish.box[2]!, wish.box[3]!)]
    const window: Box = {
      x0: Math.min(a[0], b[0]),
      y0: Math.min(a[1], b[1]),
      x1: Math.max(a[0], b[0]),
      y1: Math.max(a[1], b[1]),
    }
    const none: Box = { x0: 0, y0: 0, x1: 0, y1: 0 }
    const now = view.value
    if (!now) return
    // As the drawing is stretched now, with all of the window in it.
    const scale = Math.min(
      size.value.width / (window.x1 - window.x0) / now.sx,
      size.value.height / (window.y1 - window.y0) / now.sy,
    )
    const fitted = fit(window, size.value.width, size.value.height, none, true)
    const [cx, cy] = [fromX(fitted, size.value.width / 2), fromY(fitted, size.value.height / 2)]
    const [sx, sy] = [now.sx * scale, now.sy * scale]
    moved.value = { sx, sy, ox: size.value.width / 2 - sx * cx, oy: size.value.height / 2 + sy * cy }
  },
)
watch(field, (canvas) => {
  if (props.still) return
  reading.inView = canvas ? () => canvas.cellsInView() : null
  look.easel = canvas?.canvas && host.value ? { host: host.value, canvas: canvas.canvas, paint: () => canvas.paintNow() } : null
})
watch(drawn, (now, before) => {
  if (JSON.stringify(now) !== JSON.stringify(before)) moved.value = null
})

useResizeObserver(host, ([entry]) => {
  size.value = { width: entry!.contentRect.width, height: entry!.contentRect.height }
  moved.value = null
})

function wheel(event: WheelEvent): void {
  if (!view.value || props.still) return
  event.preventDefault()
  moved.value = zoom(view.value, Math.exp(-event.deltaY * 0.0015), event.offsetX, event.offsetY)
}

let dragFrom: { x: number; y: number; view: Viewport } | null = null

function press(event: PointerEvent): void {
  if (event.button !== 0 || !view.value || props.still) return
  dragFrom = { x: event.offsetX, y: event.offsetY, view: view.value }
  if (event.shiftKey) box.value = { x0: event.offsetX, y0: event.offsetY, x1: event.offsetX, y1: event.offsetY }
}

function move(event: PointerEvent): void {
  cursor.value = { x: event.offsetX, y: event.offsetY }
  if (!dragFrom) return
  if (box.value) box.value = { ...box.value, x1: event.offsetX, y1: event.offsetY }
  else if (Math.hypot(event.offsetX - dragFrom.x, event.offsetY - dragFrom.y) > 3) {
    moved.value = {
      ...dragFrom.view,
      ox: dragFrom.view.ox + event.offsetX - dragFrom.x,
      oy: dragFrom.view.oy + event.offsetY - dragFrom.y,
    }
  }
}

function release(event: PointerEvent): void {
  const b = box.value
  if (b) {
    const v = view.value!
    const [x0, x1, y0, y1] = [
      fromX(v, Math.min(b.x0, b.x1)),
      fromX(v, Math.max(b.x0, b.x1)),
      fromY(v, Math.max(b.y0, b.y1)),
      fromY(v, Math.min(b.y0, b.y1)),
    ]
    const caught = (sketch.value?.boundaries ?? []).filter(
      (e) => !e.interface && e.lines.every((l) => l.every((q) => q[0]! >= x0 && q[0]! <= x1 && q[1]! >= y0 && q[1]! <= y1)),
    )
    theCase.picked = caught.map((e) => e.name)
    if (caught[0]) emit('condition', caught[0].name)
  } else if (dragFrom && Math.hypot(event.offsetX - dragFrom.x, event.offsetY - dragFrom.y) <= 3) {
    theCase.picked = []
  }
  dragFrom = null
  box.value = null
}

function zoomBy(factor: number): void {
  if (view.value) moved.value = zoom(view.value, factor, size.value.width / 2, size.value.height / 2)
}

function whole(): void {
  moved.value = null
}

function stand(): void {
  laid.value = !laid.value
  moved.value = null
}

function flipScale(): void {
  scaleChosen.value = !toScale.value
  moved.value = null
}
</script>

<template>
  <div ref="host" class="sketch" data-test="sketch" @wheel="wheel">
    <FieldCanvas
      ref="field"
      :mesh="mesh"
      :shading="mode === 'field' ? shading : null"
      :view="view"
      :width="size.width"
      :height="size.height"
      :paint="look.paint"
      :map="look.map"
      :levels="look.isoLevels"
      :label-of="labelOf"
      :velocity="velocity"
      :arrows="mode === 'field' && reading.arrows ? look.arrows : null"
      :streamlines="mode === 'field' ? streamlines : null"
      :stream-share="look.streamShare"
      :stream-map="reading.mapOf(look.streamField)"
      :particles="look.particles"
      :grid="mode === 'grid'"
    />
    <svg
      v-if="view && sketch"
      class="layer"
      :width="size.width"
      :height="size.height"
      @pointerdown="press"
      @pointermove="move"
      @pointerup="release"
      @pointerleave="cursor = null"
      @dblclick="whole"
    >
      <defs>
        <pattern id="hatch" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="7" height="7" class="solid-ground" />
          <line x1="0" y1="0" x2="0" y2="7" class="solid-hatch" />
        </pattern>
      </defs>
      <g v-if="mode !== 'field' || !mesh">
        <path
          v-for="part in sketch.parts"
          :key="part.name"
          :d="ringsPath(view, part.rings)"
          :class="['part', part.fluid ? 'fluid' : 'solid', mode]"
          fill-rule="evenodd"
        />
      </g>
      <g v-else>
        <path
          v-for="part in sketch.parts"
          :key="part.name"
          :d="ringsPath(view, part.rings)"
          :class="['outline', { hatch: !part.fluid && reading.field?.kind !== 'temperature' }]"
          fill-rule="evenodd"
        />
      </g>
      <InternalsLayer v-if="mode !== 'grid'" :view="view" :sketch="sketch" :over="mode === 'field'" />
      <g v-for="(c, i) in copies.slice(1)" :key="`copy${i}`" :transform="placed(c)">
        <path
          v-for="part in sketch.parts"
          :key="part.name"
          :d="ringsPath(view, part.rings)"
          :class="['outline', { hatch: !part.fluid && reading.field?.kind !== 'temperature' }]"
          fill-rule="evenodd"
        />
        <path
          v-for="boundary in sketch.boundaries"
          :key="boundary.name"
          :d="linePath(view, boundary.lines)"
          :class="['edge', boundary.kind]"
        />
      </g>
      <line v-if="axis" class="axis" :x1="axis[0][0]" :y1="axis[0][1]" :x2="axis[1][0]" :y2="axis[1][1]" />
      <g v-for="boundary in sketch.boundaries" :key="boundary.name">
        <path :d="linePath(view, boundary.lines)" :class="['edge', boundary.kind, { selected: selected(boundary) }]" />
        <path
          v-if="!boundary.interface && !still && !draw"
          :d="linePath(view, boundary.lines)"
          class="hit"
          @pointerdown.stop
          @click.stop="select(boundary.general, $event)"
        >
          <title>{{ boundary.name }}: {{ boundary.flag }}</title>
        </path>
      </g>
      <g v-if="mode !== 'grid'" class="dimension">
        <path
          v-for="d in dimensions"
          :key="d.dimension.field + d.dimension.part"
          :d="d.path"
          :class="{ over: mode === 'field' && d.onPart }"
        />
      </g>
      <g v-if="labels" class="leads">
        <template v-for="(lead, i) in labels.leads" :key="`lead${i}`">
          <path :d="`M${lead.from.join()}L${lead.to.join()}`" :class="{ over: mode === 'field' }" />
          <circle :cx="lead.from[0]" :cy="lead.from[1]" r="1.8" :class="{ over: mode === 'field' }" />
        </template>
      </g>
      <DrawLayer v-if="draw" :view="view" :sketch="sketch" :up="up" :width="size.width" :height="size.height" />
      <WallLayer v-if="mode === 'field'" :view="view" :up="up" :width="size.width" :height="size.height" />
      <LineLayer
        v-if="reads && mode === 'field'"
        :view="view"
        :sketch="theCase.sketch!"
        :up="up"
        :width="size.width"
        :height="size.height"
      />
      <g v-for="(w, i) in worst" :key="`worst${i}`" class="worst">
        <circle :cx="toX(view, w[0])" :cy="toY(view, w[1])" r="9" />
        <text :x="toX(view, w[0]) + 12" :y="toY(view, w[1]) + 4">{{ i + 1 }}</text>
      </g>
      <rect
        v-if="box"
        class="box"
        :x="Math.min(box.x0, box.x1)"
        :y="Math.min(box.y0, box.y1)"
        :width="Math.abs(box.x1 - box.x0)"
        :height="Math.abs(box.y1 - box.y0)"
      />
    </svg>

    <SketchLabels v-if="labels" :labels="labels" :over="mode === 'field'" :still="still" :selected="selected" @select="select" />
    <template v-if="view">
      <span
        v-for="(t, i) in troubles"
        :key="`t${i}`"
        class="trouble"
        :style="standing({ x: toX(view, drawnAt(t.at![0]!, t.at![1]!)[0]), y: toY(view, drawnAt(t.at![0]!, t.at![1]!)[1]) })"
        role="alert"
        ><i></i>{{ t.problem }}</span
      >
    </template>
    <div v-if="!view || !sketch" class="empty muted">
      {{ theCase.view ? 'Nothing can be drawn yet: see the problems under Draw.' : theCase.loadError ? '' : 'Loading…' }}
    </div>

    <div v-if="!still" class="corner no-print">
      <span v-if="stretched" class="muted" data-test="stretch">
        {{ stretch > 1 ? `heights drawn ${times(stretch)} times` : `lengths drawn ${times(1 / stretch)} times` }}
      </span>
      <v-btn
        v-if="canStand"
        v-tip="'the axis upright, or along the drawing'"
        variant="text"
        size="small"
        data-test="stand"
        @click="stand"
      >
        {{ up ? 'lay down' : 'stand up' }}
      </v-btn>
      <v-btn
        v-tip="toScale ? 'stretch thin sections across' : 'the same scale both ways'"
        variant="text"
        size="small"
        @click="flipScale"
        >{{ toScale ? 'stretch' : 'true scale' }}</v-btn
      >
      <v-btn variant="text" aria-label="zoom in" @click="zoomBy(1.4)">+</v-btn>
      <v-btn variant="text" aria-label="zoom out" @click="zoomBy(1 / 1.4)">−</v-btn>
      <v-btn variant="text" size="small" :disabled="!moved" @click="whole">show all</v-btn>
    </div>
    <span v-else-if="stretched" class="corner muted">{{
      stretch > 1 ? `heights drawn ${times(stretch)} times` : `lengths drawn ${times(1 / stretch)} times`
    }}</span>
    <ArrowKey v-if="mode === 'field' && mesh" />
    <div v-if="under && !still" class="readout" data-test="readout">
      <b v-if="under.value">{{ under.value }}</b> <span v-if="under.part">in {{ under.part }}</span>
      <span class="muted">{{ under.place }}</span>
    </div>
  </div>
</template>

<style scoped>
.sketch {
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: hidden;
  user-select: none;
}
.layer {
  position: absolute;
  inset: 0;
}
.part {
  stroke: none;
}
.part.fluid {
  fill: var(--fluid);
}
.part.solid {
  fill: url(#hatch);
}
.part.grid {
  opacity: 0.6;
}
.solid-ground {
  fill: var(--solid);
}
.solid-hatch {
  stroke: var(--hatch);
  stroke-width: 1;
}
.outline {
  fill: none;
}
.outline.hatch {
  fill: url(#hatch);
}
.axis {
  stroke: var(--muted);
  stroke-dasharray: 14 4 3 4;
}
.edge {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.3;
  pointer-events: none;
}
.edge.interface {
  stroke-width: 0.8;
}
.edge.symmetry {
  stroke-dasharray: 10 3 2 3;
}
.edge.inlet,
.edge.outlet,
.edge.upstream,
.edge.downstream {
  stroke-width: 1;
  stroke-dasharray: 3 3;
}
.edge.open {
  stroke: var(--doubt);
  stroke-width: 2.5;
}
.edge.selected {
  stroke: var(--select);
  stroke-width: 3.5;
  stroke-dasharray: none;
}
.hit {
  fill: none;
  stroke: transparent;
  stroke-width: 11;
  cursor: pointer;
}
.hit:hover {
  stroke: var(--select);
  stroke-opacity: 0.25;
}
.dimension path {
  fill: none;
  stroke: var(--muted);
  stroke-width: 0.9;
}
.dimension path.over {
  stroke: #fff;
}
.box {
  fill: var(--select);
  fill-opacity: 0.08;
  stroke: var(--select);
  stroke-dasharray: 4 3;
}
.trouble {
  position: absolute;
  transform: translate(-7px, -50%);
  color: var(--fault);
  font-weight: 600;
  background: var(--sheet);
  border: 1px solid var(--fault);
  padding: 0 8px 0 4px;
  max-width: 420px;
  z-index: 3;
}
.trouble i {
  display: inline-block;
  width: 8px;
  height: 8px;
  border-radius: 50%;
  background: var(--fault);
  margin-right: 6px;
}
.worst circle {
  fill: none;
  stroke: var(--heat);
  stroke-width: 2;
}
.worst text {
  fill: var(--heat);
  font-weight: 600;
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 3;
}
.leads path {
  fill: none;
  stroke: var(--muted);
  stroke-width: 0.8;
}
.leads circle {
  fill: var(--muted);
}
.leads .over {
  stroke: #fff;
  fill: #fff;
}
.corner {
  position: absolute;
  right: 2px;
  top: 0;
  display: flex;
  align-items: center;
  gap: 2px;
}
.readout {
  position: absolute;
  left: 4px;
  bottom: 1px;
  background: var(--sheet);
  padding: 0 6px;
  pointer-events: none;
  white-space: pre;
  border: 1px solid var(--hair);
}
.empty {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
}
</style>
