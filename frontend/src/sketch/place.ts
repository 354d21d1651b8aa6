import type { CaseDocument, Sketch } from '../api/client'
import type { ShapeType } from '../stores/drawing'

export type Part = CaseDocument['section']['parts'][number]
export type Spot = [x: number, y: number]

/** A place as people write it, in mm: so exactly that a sum of two such lengths lies where it was snapped to. */
export const mm = (metres: number) => `${Number((1000 * metres).toFixed(8))} mm`

/** A length by itself, of which six digits are enough. */
const about = (metres: number) => `${Number((1000 * metres).toPrecision(6))} mm`

const LITERAL = /^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*(mm|cm|m|um|in|ft)\s*$/
const PER_UNIT: Record<string, number> = { mm: 1e-3, cm: 1e-2, m: 1, um: 1e-6, in: 0.0254, ft: 0.3048 }
const ADDED = /^(.*\S)\s*([+-])\s*(\d+\.?\d*(?:[eE][-+]?\d+)?)\s*mm\s*$/

/** An expression for a place that lies `by` metres further; what it depends on stays in it. */
export function shifted(text: string, by: number): string {
  if (Math.abs(by) < 1e-12) return text
  const literal = LITERAL.exec(text)
  if (literal) return mm(Number(literal[1]) * PER_UNIT[literal[2]!]! + by)
  const added = ADDED.exec(text)
  const before = added ? Number(added[3]) * 1e-3 * (added[2] === '-' ? -1 : 1) : 0
  const rest = added ? added[1]! : text.trim()
  const sum = before + by
  if (Math.abs(sum) < 1e-12) return rest
  return `${rest} ${sum < 0 ? '-' : '+'} ${mm(Math.abs(sum))}`
}

/** A round step of about a hundredth of the section. */
export function stepOf(sketch: Sketch | null): number {
  const b = sketch?.bounds ?? [0, 0, 0.1, 0.1]
  const size = Math.max(b[2]! - b[0]!, b[3]! - b[1]!) / 100
  const power = 10 ** Math.floor(Math.log10(size))
  return ([5, 2, 1].find((x) => x * power <= size) ?? 1) * power
}

/** Positions other parts offer for snapping: corners of straight outlines, and the ends and middles of all. */
export function anchors(sketch: Sketch | null, without: string): { x: number[]; y: number[] } {
  const x = new Set<number>([0])
  const y = new Set<number>([0])
  for (const outline of sketch?.outlines ?? []) {
    if (outline.origin === without) continue
    const points = outline.loops.flat()
    const straight = points.length <= 12
    // Chords of a curve miss its ends by a little.
    const near = (v: number) => (straight ? v : Number(v.toPrecision(4)))
    const box = boxOf(points)
    for (const v of [box.x0, 0.5 * (box.x0 + box.x1), box.x1]) x.add(near(v))
    for (const v of [box.y0, 0.5 * (box.y0 + box.y1), box.y1]) y.add(near(v))
    if (straight) {
      for (const p of points) {
        x.add(p[0]!)
        y.add(p[1]!)
      }
    }
  }
  return { x: [...x], y: [...y] }
}

export function boxOf(points: number[][]): { x0: number; y0: number; x1: number; y1: number } {
  const xs = points.map((p) => p[0]!)
  const ys = points.map((p) => p[1]!)
  return { x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) }
}

export interface Snapped {
  value: number
  /** The anchor it caught, if one did; else it lies on the step. */
  anchor: number | null
}

/** The nearest anchor within `reach`, or the nearest step. */
export function snap(value: number, candidates: number[], reach: number, step: number): Snapped {
  let best: number | null = null
  for (const c of candidates)
    if (Math.abs(c - value) <= reach && (best === null || Math.abs(c - value) < Math.abs(best - value))) best = c
  if (best !== null) return { value: best, anchor: best }
  return { value: step > 0 ? Math.round(value / step) * step : value, anchor: null }
}

/** A shape from where a drag began and ended, or from clicked corners. */
export function shapeFrom(type: ShapeType, spots: Spot[]): { shape: Part['shape']; angle: string } {
  const [x0, y0] = spots[0]!
  const [x1, y1] = spots.at(-1)!
  const reach = Math.hypot(x1 - x0, y1 - y0)
  const at = { x: mm(x0), y: mm(y0) }
  const turn = (180 * Math.atan2(y1 - y0, x1 - x0)) / Math.PI
  switch (type) {
    case 'rectangle':
      return {
        shape: {
          type,
          divided: {},
          x: mm(Math.min(x0, x1)),
          y: mm(Math.min(y0, y1)),
          width: mm(Math.abs(x1 - x0)),
          height: mm(Math.abs(y1 - y0)),
        },
        angle: '',
      }
    case 'circle':
      return { shape: { type, ...at, diameter: about(2 * reach) }, angle: '' }
    case 'ring':
      return { shape: { type, ...at, outer_diameter: about(2 * reach), inner_diameter: mm(1.6 * reach) }, angle: '' }
    case 'blade':
      return {
        shape: { type, ...at, chord: about(reach), camber: '0.06', camber_at: '0.4', thickness: '0.15', edge_radius: '' },
        angle: Math.abs(turn) > 0.01 ? `${Number(turn.toPrecision(4))} deg` : '',
      }
    default:
      return { shape: { type, ...at, points: spots.map(([x, y]) => [mm(x - x0), mm(y - y0)]) }, angle: '' }
  }
}

/** Add a part of a shape, with a name of its own; returns its index. */
export function addPart(document: CaseDocument, shape: Part['shape'], angle = '', name = 'part'): number {
  const taken = new Set(document.section.parts.map((p) => p.name))
  let number = document.section.parts.length + 1
  while (taken.has(`${name} ${number}`)) number++
  document.section.parts.push({
    name: `${name} ${number}`,
    material: 'stainless_304',
    present: '1',
    heat: '',
    angle,
    mirror: '',
    angular_velocity: '',
    shape,
  })
  return document.section.parts.length - 1
}
