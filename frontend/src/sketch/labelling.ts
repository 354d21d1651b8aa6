import { type as typeface } from '../design/tokens'
import type { Sketch } from '../api/client'
import type { PlacedDimension } from './dimensions'
import { inside, type Flag } from './flags'
import { FreeSpace, widthOf, type Lead, type Placed, type Spot } from './labels'
import { boxOf } from './place'
import { fromX, fromY, toX, toY, type Viewport } from './viewport'

/** A flag, a dimension or a name with the spot its label stands at. */
export interface Labelled<T> {
  item: T
  spot: Spot
}

export interface PartName {
  name: string
  /** Empty where there is room for the name alone. */
  material: string
  small: boolean
  /** Whether it stands on a pattern, and needs a ground of its own. */
  plate: boolean
}

export interface Labelling {
  names: Labelled<PartName>[]
  flags: Labelled<Flag>[]
  dimensions: Labelled<PlacedDimension>[]
  leads: Lead[]
}

/** What stands on the drawing in one view of it. */
export interface ToLabel {
  view: Viewport
  size: { width: number; height: number }
  sketch: Sketch
  flags: Flag[]
  dimensions: PlacedDimension[]
  /** Whether parts are named. */
  named: boolean
  /** Further lines that labels keep off, on the screen: an axis. */
  beside: [x: number, y: number][][]
  /** Width that buttons take at the upper right. */
  corner: number
}

const LINE = 17
/** Height of what is to be hit, less what labels keep clear of each other. */
const TARGET = 22
const SMALL_LINE = 13
const PAD = 10
/** Labels at a line keep off it. */
const OFF = 5
/** A part smaller than this is not named. */
const LEAST = 8
/** Parts at least so wide have their name at their left, with the material; smaller ones in their middle. */
const WIDE = 260
const THIN = 17

const font = (weight: number, size = typeface.size) => `${weight} ${size}px ${typeface.text}`

/** All labels of a drawing: dimensions along its edges first, then names in what they name, flags, and dimensions of small things. */
export function labelling({ view, size, sketch, flags, dimensions, named, beside: further, corner }: ToLabel): Labelling {
  const screen = (line: number[][]): [number, number][] => line.map((p) => [toX(view, p[0]!), toY(view, p[1]!)])
  const lines = [...sketch.parts.flatMap((part) => part.rings), ...sketch.boundaries.flatMap((b) => b.lines)].map(screen)
  lines.push(...further)
  const measured = dimensions.map((d): [number, number][] => {
    const [from, to] = screen([d.dimension.start, d.dimension.end]) as [[number, number], [number, number]]
    if (d.below)
      return [
        [from[0], d.y],
        [to[0], d.y],
      ]
    return d.upright
      ? [
          [d.x, from[1]],
          [d.x, to[1]],
        ]
      : [from, to]
  })
  const free = new FreeSpace(size.width, size.height, lines)
  free.take({ x: size.width - corner / 2, y: 12, width: corner, height: 24 })
  const leads: Lead[] = []
  const note = ({ spot, lead }: Placed) => {
    if (lead) leads.push(lead)
    return spot
  }

  const placeDimension = (d: PlacedDimension): Labelled<PlacedDimension> => {
    const spot = { x: d.x, y: d.y, width: widthOf(d.dimension.text, font(500)) + PAD, height: d.below ? LINE : TARGET }
    if (d.below) return { item: d, spot: taken(free, spot) }
    return { item: d, spot: note(d.upright ? beside(free, d, spot.width) : free.place(spot, [d.x, d.y], [1, -1])) }
  }
  const placed = dimensions.map(placeDimension)
  // What is still to come keeps off the lines of dimensions as well.
  const rest = free.with(measured)
  const names = named ? namesOf(view, sketch, rest, note) : []
  const solids = sketch.parts.filter((part) => !part.fluid)
  const onMetal = (spot: Spot) => solids.some((part) => inside(part.rings, fromX(view, spot.x), fromY(view, spot.y)))
  const flagged = flags.map((flag) => ({ item: flag, spot: note(flagSpot(rest, flag, onMetal)) }))
  return { names, flags: flagged, dimensions: placed, leads }
}

function taken(free: FreeSpace, spot: Spot): Spot {
  free.take(spot)
  return spot
}

/** The label of a height at the right of its line, as near to its middle as there is room. */
function beside(free: FreeSpace, d: PlacedDimension, width: number): Placed {
  const [top, bottom] = d.span ?? [d.y, d.y]
  const offers = [d.y, ...[0.5, 0.35, 0.65, 0.25, 0.75].map((share) => top + share * (bottom - top))]
  const spots = offers.map((y) => ({ x: d.x + OFF + 1 + width / 2, y, width, height: TARGET }))
  const found = spots.find((spot) => free.isFree(spot))
  if (found) return { spot: taken(free, found), lead: null }
  return free.place(spots[0]!, [d.x, d.y], [1, 0])
}

/** The label of a flag: outside, or in a fluid, rather than on metal. */
function flagSpot(free: FreeSpace, flag: Flag, onMetal: (spot: Spot) => boolean): Placed {
  const pieces = flag.boundary.flag.split(' · ')
  const quiet = ['symmetry', 'adiabatic'].includes(flag.boundary.kind)
  const widths = pieces.map((piece) => widthOf(piece, font(400, quiet ? typeface.small : typeface.size)))
  const across = flag.side === 'top' || flag.side === 'bottom'
  const arrow = flag.arrow ? 14 : 0
  const width = across ? widths.reduce((a, b) => a + b + 15, -15) + (arrow ? arrow + 5 : 0) + PAD : Math.max(...widths, arrow) + 4
  const line = quiet ? SMALL_LINE + 1 : LINE
  const height = across ? line : line * pieces.length + arrow
  const outwards = { left: [-1, 0], right: [1, 0], top: [0, -1], bottom: [0, 1] }[flag.side] ?? [0, -1]
  const spot = across
    ? { x: flag.x + width / 2, y: flag.y + outwards[1]! * (height / 2 + OFF), width, height }
    : { x: flag.x + outwards[0]! * (width / 2 + OFF), y: flag.y, width, height }
  return free.place(spot, [flag.x, flag.y], outwards as [number, number], (one) => !onMetal(one))
}

/** One name for each part, or for all copies of it: in the part where it fits, or beside it with a line into it. */
function namesOf(view: Viewport, sketch: Sketch, free: FreeSpace, note: (placed: Placed) => Spot): Labelled<PartName>[] {
  const shown = new Set<string>()
  const found: Labelled<PartName>[] = []
  for (const part of sketch.parts) {
    if (shown.has(part.origin) || !part.rings.length) continue
    const box = boxOf(part.rings[0]!)
    const [w, h] = [view.sx * (box.x1 - box.x0), view.sy * (box.y1 - box.y0)]
    if (Math.max(w, h) < LEAST) continue
    shown.add(part.origin)
    const within = (spot: Spot) => inside(part.rings, fromX(view, spot.x), fromY(view, spot.y))
    const name = widthOf(part.origin, font(600)) + 6
    // What stands in its stream says more of a part than what the stream is of.
    const words = part.internal ? part.internal.flag : part.material
    const both = name + widthOf(` ${words}`, font(400))
    const middle: [number, number] = [toX(view, 0.5 * (box.x0 + box.x1)), toY(view, 0.5 * (box.y0 + box.y1))]
    const offers: { width: number; height: number; x: number; material: string }[] = []
    if (w >= WIDE) offers.push({ width: both, height: LINE, x: toX(view, box.x0) + 16 + both / 2, material: words })
    offers.push({ width: name, height: LINE, x: middle[0], material: '' })
    if (h < THIN + 4) offers.push({ width: name, height: SMALL_LINE, x: middle[0], material: '' })
    const fitting = offers
      .flatMap(({ material, ...offer }) =>
        spotsIn(view, part.rings, box, { ...offer, y: middle[1] }).map((spot) => ({ spot, material })),
      )
      .find(({ spot }) => free.isFree(spot) && within(spot))
    if (fitting) {
      found.push({
        item: { name: part.origin, material: fitting.material, small: fitting.spot.height < LINE, plate: Boolean(part.internal) },
        spot: taken(free, fitting.spot),
      })
      continue
    }
    const anchor = innerPoint(view, part.rings, box)
    const width = part.internal ? both : name
    const spot = note(free.place({ x: anchor[0], y: anchor[1], width, height: LINE }, anchor, [0.4, -1]))
    found.push({ item: { name: part.origin, material: part.internal ? words : '', small: false, plate: false }, spot })
  }
  return found
}

/** Spots for a name in a part: where it would best stand, then all over the part. */
function spotsIn(view: Viewport, rings: number[][][], box: ReturnType<typeof boxOf>, best: Spot): Spot[] {
  const STEPS = 9
  const [x0, x1] = [toX(view, box.x0), toX(view, box.x1)]
  const [y0, y1] = [toY(view, box.y1), toY(view, box.y0)]
  const over: Spot[] = []
  for (let j = 1; j < STEPS; j++) {
    for (let i = 1; i < STEPS; i++) {
      const spot = { ...best, x: x0 + ((x1 - x0) * i) / STEPS, y: y0 + ((y1 - y0) * j) / STEPS }
      if (inside(rings, fromX(view, spot.x), fromY(view, spot.y))) over.push(spot)
    }
  }
  const away = (s: Spot) => Math.hypot(s.x - best.x, s.y - best.y)
  return [best, ...over.sort((a, b) => away(a) - away(b))]
}

/** A point well inside a part, on the screen: the middle of the widest piece of a few cuts across it. */
function innerPoint(view: Viewport, rings: number[][][], box: ReturnType<typeof boxOf>): [number, number] {
  const CUTS = 64
  let best = { width: 0, x: 0.5 * (box.x0 + box.x1), y: 0.5 * (box.y0 + box.y1) }
  for (const share of [0.5, 0.3, 0.7, 0.15, 0.85, 0.05, 0.95]) {
    const y = box.y0 + share * (box.y1 - box.y0)
    let from: number | null = null
    for (let k = 0; k <= CUTS; k++) {
      const x = box.x0 + ((box.x1 - box.x0) * k) / CUTS
      const isIn = k < CUTS && inside(rings, x, y)
      if (isIn && from === null) from = x
      if (!isIn && from !== null) {
        if (x - from > best.width) best = { width: x - from, x: 0.5 * (from + x), y }
        from = null
      }
    }
  }
  return [toX(view, best.x), toY(view, best.y)]
}
