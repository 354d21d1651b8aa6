import type { BoundaryView, Sketch } from '../api/client'
import { boxOf } from './place'
import { toX, toY, type Viewport } from './viewport'

export interface Flag {
  boundary: BoundaryView
  x: number
  y: number
  /** Where it stands as seen from the part: left, right, top or bottom. */
  side: string
  arrow: string
}

const ARROWS: Record<string, string> = {
  'upstream left': '▸',
  'upstream right': '◂',
  'upstream top': '▾',
  'upstream bottom': '▴',
  'downstream left': '◂',
  'downstream right': '▸',
  'downstream top': '▴',
  'downstream bottom': '▾',
  'inlet left': '▸',
  'inlet right': '◂',
  'inlet top': '▾',
  'inlet bottom': '▴',
  'outlet left': '◂',
  'outlet right': '▸',
  'outlet top': '▴',
  'outlet bottom': '▾',
  'opening left': '↔',
  'opening right': '↔',
  'opening top': '↕',
  'opening bottom': '↕',
}

/** The lines of a boundary as a path on the screen. */
export function linePath(view: Viewport, lines: number[][][]): string {
  return lines.map((line) => `M${line.map((p) => `${toX(view, p[0]!)},${toY(view, p[1]!)}`).join('L')}`).join('')
}

/** One flag for each boundary, or for all copies of a repeated part's together: outside, at the middle of its longest line. */
export function flagsOf(view: Viewport, sketch: Sketch): Flag[] {
  const shown = new Set<string>()
  const flags: Flag[] = []
  for (const boundary of sketch.boundaries) {
    if (boundary.interface || shown.has(boundary.general + boundary.flag)) continue
    shown.add(boundary.general + boundary.flag)
    const line = [...boundary.lines].sort((a, b) => lengthOf(b) - lengthOf(a))[0]
    if (!line || line.length < 2) continue
    const closed = line[0]![0] === line.at(-1)![0] && line[0]![1] === line.at(-1)![1]
    const rings = sketch.parts.find((p) => boundary.name.startsWith(`${p.name}, `))?.rings ?? []
    const box = boxOf(line)
    let at: number[]
    let out: number[]
    if (closed) {
      // A closed outline has its flag at its top, inside where it is a hole.
      at = [0.5 * (box.x0 + box.x1), box.y1]
      out = [0, 1]
    } else {
      const across = Math.abs(line.at(-1)![0]! - line[0]![0]!) > Math.abs(line.at(-1)![1]! - line[0]![1]!)
      ;[at, out] = middleOf(line, across ? 0.32 : 0.5)
      const reach = 1e-4 * Math.hypot(box.x1 - box.x0, box.y1 - box.y0)
      if (inside(rings, at[0]! + reach * out[0]!, at[1]! + reach * out[1]!)) out = [-out[0]!, -out[1]!]
    }
    const side = Math.abs(out[0]!) > Math.abs(out[1]!) ? (out[0]! < 0 ? 'left' : 'right') : out[1]! > 0 ? 'top' : 'bottom'
    flags.push({ boundary, x: toX(view, at[0]!), y: toY(view, at[1]!), side, arrow: ARROWS[`${boundary.kind} ${side}`] ?? '' })
  }
  return flags
}

function lengthOf(line: number[][]): number {
  let sum = 0
  for (let i = 1; i < line.length; i++) sum += Math.hypot(line[i]![0]! - line[i - 1]![0]!, line[i]![1]! - line[i - 1]![1]!)
  return sum
}

/** The point a share of the way along a line, counted from its left or lower end, and a normal there. */
function middleOf(line: number[][], share: number): [at: number[], normal: number[]] {
  const first = line[0]!
  const last = line.at(-1)!
  const points = first[0]! + first[1]! > last[0]! + last[1]! ? [...line].reverse() : line
  let left = share * lengthOf(points)
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1]!, points[i]!]
    const piece = Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!)
    if (left <= piece && piece > 0) {
      const t = left / piece
      return [
        [a[0]! + t * (b[0]! - a[0]!), a[1]! + t * (b[1]! - a[1]!)],
        [(b[1]! - a[1]!) / piece, (a[0]! - b[0]!) / piece],
      ]
    }
    left -= piece
  }
  return [last, [1, 0]]
}

/** Whether a point lies inside an odd number of rings. */
export function inside(rings: number[][][], x: number, y: number): boolean {
  let odd = false
  for (const ring of rings) {
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const [xi, yi, xj, yj] = [ring[i]![0]!, ring[i]![1]!, ring[j]![0]!, ring[j]![1]!]
      if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) odd = !odd
    }
  }
  return odd
}
