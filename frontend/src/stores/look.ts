import { useDebounceFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take, type CaseDocument } from '../api/client'
import { colourTable, DIVERGING, greyTable } from '../design/colourMaps'
import { useUnits } from '../quantity/units'
import { PLAIN_ARROWS, type ArrowLook } from '../sketch/arrows'
import { roundLevels } from '../sketch/isolines'
import type { Paint } from '../sketch/raster'
import { latticeOf, shade, type Shading } from '../sketch/shading'
import { layStreamlines, readStreamlines, type Streamlines } from '../sketch/streams'
import { useCase } from './case'
import { useReading } from './reading'

export type Look = 'smooth' | 'bands' | 'lines'
export type Shown = 'all' | 'solids' | 'fluids'
export type StreamStart = 'none' | 'even' | 'line' | 'point'
export type ReadLine = NonNullable<NonNullable<CaseDocument['reading']>['lines']>[number]

/** How the field that is read lies in the drawing. */
export const useLook = defineStore('look', () => {
  const theCase = useCase()
  const reading = useReading()
  const units = useUnits()

  const look = ref<Look>('smooth')
  const levels = ref(10)
  /** A map of its own for a field; that of its kind when empty. */
  const chosenMap = ref('')
  /** The value a diverging map is centred on, SI. */
  const middle = ref<number | null>(null)
  const band = ref<[number, number] | null>(null)
  const shown = ref<Shown>('all')
  const arrows = ref<ArrowLook>({ ...PLAIN_ARROWS })

  const map = computed(() => chosenMap.value || reading.map)
  const diverging = computed(() => DIVERGING.includes(map.value))
  /** The ends of the colours: those of the range, as far from the middle both ways for a map that has one. */
  const range = computed<[number, number]>(() => {
    const [low, high] = reading.range
    if (!diverging.value) return [low, high]
    const about = middle.value ?? (low + high) / 2
    const reach = Math.max(Math.abs(high - about), Math.abs(low - about)) || 1
    return [about - reach, about + reach]
  })
  const hidden = computed(() => {
    const parts = theCase.sketch?.parts ?? []
    return shown.value === 'all' ? [] : parts.map((p) => p.fluid === (shown.value === 'solids'))
  })
  const paint = computed<Paint>(() => ({
    low: range.value[0],
    high: range.value[1],
    table: colourTable(map.value),
    grey: greyTable(map.value),
    bands: look.value === 'bands' ? levels.value : 0,
    band: band.value,
    hidden: hidden.value,
  }))
  const lattice = computed(() => (reading.mesh ? latticeOf(reading.mesh) : null))
  const shading = computed<Shading | null>(() =>
    lattice.value && reading.field ? shade(lattice.value, reading.field.values) : null,
  )
  /** Round values in the unit that is read, where the field is shown as lines. */
  const isoLevels = computed(() => {
    const field = reading.field
    if (look.value !== 'lines' || !field) return []
    const [low, high] = range.value.map((value) => units.shown(value, field.kind))
    return roundLevels(low!, high!, levels.value).map((value) => units.toSi(value, field.kind))
  })
  /** The share of the area within the band of interest, of what is shown. */
  const bandShare = computed(() => {
    const [field, mesh, limits] = [reading.field, reading.mesh, band.value]
    if (!field || !mesh || !limits) return null
    let within = 0
    let all = 0
    for (let cell = 0; cell < mesh.cells; cell++) {
      const value = field.values[cell]!
      if (value !== value || hidden.value[mesh.region[cell]!]) continue
      all += reading.areas[cell]!
      if (value >= limits[0] && value <= limits[1]) within += reading.areas[cell]!
    }
    return all > 0 ? within / all : null
  })

  // Streamlines: reckoned by the server for what is shown.
  const streamStart = ref<StreamStart>('none')
  /** Distance of even ones as a share of the drawing's longer side. */
  const spacing = ref(0.03)
  const seedLine = ref('')
  const seedCount = ref(12)
  const seedPoints = ref<[number, number][]>([])
  const streamField = ref('')
  const particles = ref(false)
  const own = shallowRef<Streamlines | null>(null)
  const streamProblem = ref('')
  /** How much more the drawing is stretched along y than along x of the section. */
  const stretch = ref(1)

  const seedsFrom = computed<ReadLine | null>(() => {
    const line = theCase.document?.reading?.lines?.find((l) => l.name === seedLine.value)
    if (line) return line
    const boundary = theCase.sketch?.boundaries.find((b) => b.name === seedLine.value)
    return boundary ? { name: boundary.name, along: { type: 'surface', boundaries: [boundary.name], side: '' } } : null
  })
  const request = computed(() => {
    const bounds = theCase.sketch?.bounds
    if (streamStart.value === 'none' || !reading.runId || !bounds || !reading.fields.some((f) => f.name === 'velocity x'))
      return null
    const longer = Math.max(bounds[2]! - bounds[0]!, (bounds[3]! - bounds[1]!) * stretch.value)
    return {
      run: reading.runId,
      body: {
        how: streamStart.value,
        frame: reading.frameNumber,
        distance: spacing.value * longer,
        stretch: stretch.value,
        line: seedsFrom.value,
        count: seedCount.value,
        points: seedPoints.value,
      },
    }
  })
  /** Whether what lies in the drawing is still being reckoned. */
  const pending = ref(false)
  const ask = useDebounceFn(async () => {
    const now = request.value
    if (!now) return
    try {
      const data = await take(api.POST('/api/runs/{run}/streamlines', { params: { path: { run: now.run } }, body: now.body }))
      if (now === request.value) own.value = readStreamlines(data)
      streamProblem.value = ''
    } catch (error) {
      own.value = null
      streamProblem.value = error instanceof Error ? error.message : String(error)
    } finally {
      if (now === request.value) pending.value = false
    }
  }, 60)
  watch(request, (now) => {
    streamProblem.value = ''
    if (!now || (now.body.how === 'line' && !now.body.line) || (now.body.how === 'point' && !now.body.points.length))
      own.value = null
    else {
      pending.value = true
      void ask()
    }
  })
  const streamlines = computed(() =>
    own.value && reading.own ? layStreamlines(own.value, reading.copies, reading.own.cells) : null,
  )
  const streamShare = computed(() => {
    const field = streamField.value ? reading.laid(streamField.value) : null
    if (!field) return null
    const span = field.high - field.low || 1
    return field.values.map((value) => Math.min(Math.max((value - field.low) / span, 0), 1))
  })

  /** What is in view of the section (x0, y0, x1, y1 in m), told by the drawing: all when null; and what is to be. */
  const window = ref<number[] | null>(null)
  const wanted = shallowRef<{ box: number[] | null } | null>(null)
  const wantWindow = (box: number[] | null) => (wanted.value = { box })
  /** The drawing that is shown, told by it, for pictures of it. */
  const easel = shallowRef<{ host: HTMLElement; canvas: HTMLCanvasElement; paint: () => void } | null>(null)

  /** Another case begins with a plain look: what was chosen may not be there in it. */
  function clear(): void {
    look.value = 'smooth'
    shown.value = 'all'
    chosenMap.value = ''
    streamStart.value = 'none'
    seedLine.value = ''
    streamField.value = ''
    band.value = null
    middle.value = null
    seedPoints.value = []
    own.value = null
  }

  return {
    look,
    levels,
    chosenMap,
    map,
    diverging,
    middle,
    band,
    shown,
    arrows,
    range,
    hidden,
    paint,
    shading,
    isoLevels,
    bandShare,
    streamStart,
    spacing,
    seedLine,
    seedCount,
    seedPoints,
    streamField,
    streamlines,
    streamShare,
    streamProblem,
    particles,
    stretch,
    window,
    wanted,
    wantWindow,
    easel,
    pending,
    clear,
  }
})
