import type { Dimension, Sketch } from '../api/client'
import { toX, toY, type Box, type Viewport } from './viewport'

export interface PlacedDimension {
  dimension: Dimension
  /** Where the label stands. */
  x: number
  y: number
  upright: boolean
  /** The dimension line with its ends. */
  path: string
}

/** From this share of the section on, a height is measured inside it; a smaller part has it at its side. */
const WHOLE = 0.6
const ROW = 22

/** Dimension lines with their labels: widths below the section, heights inside or beside the part, others where they are. */
export function placeDimensions(view: Viewport, sketch: Sketch, bounds: Box, below: number): PlacedDimension[] {
  const [left, right] = [toX(view, bounds.x0), toX(view, bounds.x1)]
  const bottom = toY(view, bounds.y0) + below
  const spans = new Map<number, number>()
  for (const d of sketch.dimensions) if (d.field === 'width') spans.set(d.part, toX(view, d.end[0]!) - toX(view, d.start[0]!))
  let widths = 0
  let heights = 0
  const taken: { x: number; y: number }[] = []
  return sketch.dimensions.map((dimension) => {
    const [x0, y0] = [toX(view, dimension.start[0]!), toY(view, dimension.start[1]!)]
    const [x1, y1] = [toX(view, dimension.end[0]!), toY(view, dimension.end[1]!)]
    if (dimension.field === 'width') {
      const y = bottom + ROW * widths++
      return { dimension, x: 0.5 * (x0 + x1), y, upright: false, path: `M${x0},${y - 4}v8M${x0},${y}H${x1}M${x1},${y - 4}v8` }
    }
    if (dimension.field === 'height') {
      const span = spans.get(dimension.part) ?? right - left
      const x = span > WHOLE * (right - left) ? right - (right - left) * (0.13 + 0.11 * (heights++ % 3)) : x0 - 9
      return { dimension, x, y: 0.5 * (y0 + y1), upright: true, path: `M${x - 4},${y0}h8M${x},${y0}V${y1}M${x - 4},${y1}h8` }
    }
    let y = 0.5 * (y0 + y1)
    const x = 0.5 * (x0 + x1)
    // Diameters about one centre would lie on each other.
    while (taken.some((t) => Math.abs(t.x - x) < 70 && Math.abs(t.y - y) < 18)) y += 19
    taken.push({ x, y })
    return { dimension, x, y, upright: false, path: `M${x0},${y0}L${x1},${y1}` }
  })
}
