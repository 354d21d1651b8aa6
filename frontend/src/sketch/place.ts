import type { CaseDocument, Sketch } from '../api/client'
import type { ShapeType } from '../stores/drawing'
import { edgesOf } from './ties'
import type { Up } from './upright'
import { minus, mm } from './written'

export type Part = CaseDocument['section']['parts'][number]
export type Spot = [x: number, y: number]

/** A length by itself, of which six digits are enough. */
const about = (metres: number) => `${Number((1000 * metres).toPrecision(6))} mm`

/** A round step of about a hundredth of the section. */
export function stepOf(sketch: Sketch | null): number {
  const b = sketch?.bounds ?? [0, 0, 0.1, 0.1]
  const size = Math.max(b[2]! - b[0]!, b[3]! - b[1]!) / 100
  const power = 10 ** Math.floor(Math.log10(size))
  return ([5, 2, 1].find((x) => x * power <= size) ?? 1) * power
}

/** A place that things snap to, and how it is written where a part's dimensions say so. */
export interface Anchor {
  value: number
  text: string | null
}

/** How a spot is written along x and y of the section, where it was snapped to what is written somewhere. */
export type Ties = { x: string | null; y: string | null }

/**
 * Positions other parts offer for snapping: corners of straight outlines, and the ends and middles of all; along the axes of the drawing,
 * on which a section that stands (`up`) is turned.
 */
export function anchors(
  sketch: Sketch | null,
  without: string,
  parts: Part[] = [],
  up: Up | null = null,
): { x: Anchor[]; y: Anchor[] } {
  const x = new Map<string, Anchor>([['0', { value: 0, text: null }]])
  const y = new Map<string, Anchor>([['0', { value: 0, text: null }]])
  const add = (to: Map<string, Anchor>, value: number, text: string | null = null) => {
    const key = String(Number(value.toFixed(12)))
    if (!to.has(key) || (text !== null && to.get(key)!.text === null)) to.set(key, { value, text })
  }
  for (const outline of sketch?.outlines ?? []) {
    if (outline.origin === without) continue
    const points = outline.loops.flat()
    const straight = points.length <= 12
    // Chords of a curve miss its ends by a little.
    const near = (v: number) => (straight ? v : Number(v.toPrecision(4)))
    const box = boxOf(points)
    const part = parts.find((p) => p.name === outline.origin)
    const written = part ? edgesOf(part) : null
    // On a drawing that stands, what runs along y is drawn along x, and x upwards or downwards.
    const [across, along] = up
      ? [written?.y, up === 1 ? written?.x : written && [...written.x].reverse()]
      : [written?.x, written?.y]
    for (const [i, v] of [box.x0, 0.5 * (box.x0 + box.x1), box.x1].entries()) add(x, near(v), across?.[i])
    for (const [i, v] of [box.y0, 0.5 * (box.y0 + box.y1), box.y1].entries()) add(y, near(v), along?.[i])
    if (straight) {
      for (const p of points) {
        add(x, p[0]!)
        add(y, p[1]!)
      }
    }
  }
  return { x: [...x.values()], y: [...y.values()] }
}

export function boxOf(points: number[][]): { x0: number; y0: number; x1: number; y1: number } {
  const xs = points.map((p) => p[0]!)
  const ys = points.map((p) => p[1]!)
  return { x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) }
}

export interface Snapped {
  value: number
  /** The anchor it caught, if one did; else it lies on the step. */
  anchor: Anchor | null
}

/** The nearest anchor within `reach`, or the nearest step. */
export function snap(value: number, candidates: Anchor[], reach: number, step: number): Snapped {
  let best: Anchor | null = null
  for (const c of candidates)
    if (Math.abs(c.value - value) <= reach && (best === null || Math.abs(c.value - value) < Math.abs(best.value - value))) best = c
  if (best !== null) return { value: best.value, anchor: best }
  return { value: step > 0 ? Math.round(value / step) * step : value, anchor: null }
}

/** A shape from where a drag began and ended, or from clicked corners, in the section; `ties` say how these are written. */
export function shapeFrom(type: ShapeType, spots: Spot[], ties: Ties[] = []): { shape: Part['shape']; angle: string } {
  const [x0, y0] = spots[0]!
  const [x1, y1] = spots.at(-1)!
  const [first, last] = [ties[0], ties.length > 1 ? ties.at(-1) : undefined]
  const reach = Math.hypot(x1 - x0, y1 - y0)
  const at = { x: first?.x ?? mm(x0), y: first?.y ?? mm(y0) }
  const turn = (180 * Math.atan2(y1 - y0, x1 - x0)) / Math.PI
  /** Beginning and size between two places, either of which may be written somewhere. */
  const between = (a: number, b: number, from?: string | null, to?: string | null): [string, string] => {
    const [low, high, start, end] = a <= b ? [a, b, from, to] : [b, a, to, from]
    const begin = start ?? mm(low)
    return [begin, end ? minus(end, begin) : mm(high - low)]
  }
  switch (type) {
    case 'rectangle': {
      const [x, width] = between(x0, x1, first?.x, last?.x)
      const [y, height] = between(y0, y1, first?.y, last?.y)
      return { shape: { type, divided: {}, x, y, width, height }, angle: '' }
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
    default: {
      const away = (k: number, axis: 'x' | 'y', by: number) => {
        const text = ties[k]?.[axis]
        return text ? minus(text, at[axis]) : mm(by)
      }
      return { shape: { type, ...at, points: spots.map(([x, y], k) => [away(k, 'x', x - x0), away(k, 'y', y - y0)]) }, angle: '' }
    }
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
    roughness: '',
    shape,
  })
  return document.section.parts.length - 1
}
