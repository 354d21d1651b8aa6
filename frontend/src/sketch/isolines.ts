import type { Polygons } from './raster'
import type { Shading } from './shading'
import { toX, toY, type Viewport } from './viewport'

/** A piece of an iso-line on the screen. */
export type Segment = [x0: number, y0: number, x1: number, y1: number]

export interface IsoLabel {
  x: number
  y: number
  /** Direction of the line, radians, so that it can be read from left to right. */
  turn: number
  level: number
}

/** Round values between two ends, about so many: steps of 1, 2 or 5 times a power of ten. */
export function roundLevels(low: number, high: number, about: number): number[] {
  if (!(high > low)) return []
  const raw = (high - low) / about
  const power = 10 ** Math.floor(Math.log10(raw))
  const step = ([1, 2, 5, 10].find((m) => m * power >= raw * (1 - 1e-9)) ?? 10) * power
  const first = Math.ceil(low / step - 1e-9)
  const last = Math.floor(high / step + 1e-9)
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => Number(((first + i) * step).toPrecision(12)))
}

/** Iso-lines by level: every cell is cut into triangles from its middle, over which the field is linear. */
export function isolines(mesh: Polygons, shading: Shading, levels: number[], view: Viewport, hidden: boolean[]): Segment[][] {
  const found: Segment[][] = levels.map(() => [])
  const { nodes, cellStart, cellNodes, region } = mesh
  const { values, corners, middles } = shading
  const [lowest, highest] = [levels[0] ?? Infinity, levels.at(-1) ?? -Infinity]
  for (let cell = 0; cell < mesh.cells; cell++) {
    const c = values[cell]!
    if (c !== c || hidden[region[cell]!]) continue
    const from = cellStart[cell]!
    const to = cellStart[cell + 1]!
    let least = c
    let most = c
    for (let k = from; k < to; k++) {
      if (corners[k]! < least) least = corners[k]!
      if (corners[k]! > most) most = corners[k]!
    }
    if (most < lowest || least > highest) continue
    const cx = toX(view, middles[2 * cell]!)
    const cy = toY(view, middles[2 * cell + 1]!)
    for (let i = 0; i < levels.length; i++) {
      const level = levels[i]!
      if (level < least || level > most) continue
      for (let k = from, j = to - 1; k < to; j = k++) {
        const a = corners[j]!
        const b = corners[k]!
        // A corner that has the level exactly counts as above it.
        const [ua, ub, uc] = [a >= level, b >= level, c >= level]
        if (ua === ub && ub === uc) continue
        const ax = toX(view, nodes[2 * cellNodes[j]!]!)
        const ay = toY(view, nodes[2 * cellNodes[j]! + 1]!)
        const bx = toX(view, nodes[2 * cellNodes[k]!]!)
        const by = toY(view, nodes[2 * cellNodes[k]! + 1]!)
        const spots: number[] = []
        const cut = (p: number, q: number, px: number, py: number, qx: number, qy: number) => {
          const t = (level - p) / (q - p)
          spots.push(px + t * (qx - px), py + t * (qy - py))
        }
        if (ua !== ub) cut(a, b, ax, ay, bx, by)
        if (ub !== uc) cut(b, c, bx, by, cx, cy)
        if (uc !== ua) cut(c, a, cx, cy, ax, ay)
        found[i]!.push(spots as Segment)
      }
    }
  }
  return found
}

/** Where levels are written: on their lines, inside the picture, and away from each other. */
export function isoLabels(lines: Segment[][], levels: number[], width: number, height: number, apart = 110): IsoLabel[] {
  const labels: IsoLabel[] = []
  const margin = 24
  lines.forEach((segments, i) => {
    let own = 0
    // From the middle of each line's pieces outwards, a few tries are enough.
    const step = Math.max(1, Math.floor(segments.length / 60))
    for (
      let k = Math.floor(segments.length / 2), n = 0;
      n < segments.length && own < 3;
      n += step, k = (k + step) % segments.length
    ) {
      const [x0, y0, x1, y1] = segments[k]!
      const [x, y] = [(x0 + x1) / 2, (y0 + y1) / 2]
      if (x < margin || y < margin / 2 || x > width - margin || y > height - margin / 2) continue
      if (Math.hypot(x1 - x0, y1 - y0) < 0.3) continue
      if (labels.some((l) => Math.hypot(l.x - x, 2.5 * (l.y - y)) < (l.level === levels[i] ? 2.2 : 1) * apart)) continue
      let turn = Math.atan2(y1 - y0, x1 - x0)
      if (turn > Math.PI / 2) turn -= Math.PI
      if (turn < -Math.PI / 2) turn += Math.PI
      labels.push({ x, y, turn, level: levels[i]! })
      own++
    }
  })
  return labels
}
