import type { Dimension, Sketch } from '../api/client'
import { inside } from './flags'
import { fromX, toX, toY, type Box, type Viewport } from './viewport'

export interface PlacedDimension {
  dimension: Dimension
  /** Where the label stands. */
  x: number
  y: number
  upright: boolean
  /** Whether it stands in the rows below the section. */
  below?: boolean
  /** Ends of an upright line. */
  span?: [top: number, bottom: number]
  /** Whether an upright line stands on a part, and not beside them. */
  onPart?: boolean
  /** The dimension line with its ends. */
  path: string
}

/** From this share of the section on, a height is measured inside it; a smaller part has it at its right. */
const WHOLE = 0.6
const ROW = 22
/** Height from which on there is room beside a name, in pixels. */
const CLEAR = 90

/** Share of the section's length that a label takes at least. */
const LABEL = 0.07

/** A row below the section for each width, so that those that do not overlap share one. */
export function widthRows(sketch: Sketch): Map<Dimension, number> {
  const [x0, , x1] = sketch.bounds as [number, number, number, number]
  const room = LABEL * (x1 - x0)
  const rows = new Map<Dimension, number>()
  const taken: [number, number][][] = []
  for (const d of sketch.dimensions) {
    if (d.field !== 'width') continue
    const middle = 0.5 * (d.start[0]! + d.end[0]!)
    const [low, high] = [Math.min(d.start[0]!, middle - room / 2) - room / 8, Math.max(d.end[0]!, middle + room / 2) + room / 8]
    let row = taken.findIndex((used) => used.every(([a, b]) => high < a || low > b))
    if (row < 0) row = taken.push([]) - 1
    taken[row]!.push([low, high])
    rows.set(d, row)
  }
  return rows
}

/** Room that the widths take below the section, in pixels. */
export function roomBelow(sketch: Sketch | null, below: number): number {
  const rows = sketch ? Math.max(0, ...[...widthRows(sketch).values()].map((row) => row + 1)) : 1
  return below + ROW * Math.min(rows, 4)
}

/** Dimension lines with their labels: widths below the section, heights inside or beside the part, others where they are. */
export function placeDimensions(view: Viewport, sketch: Sketch, bounds: Box, below: number): PlacedDimension[] {
  const [left, right] = [toX(view, bounds.x0), toX(view, bounds.x1)]
  const bottom = toY(view, bounds.y0) + below
  const spans = new Map<number, number>()
  for (const d of sketch.dimensions) if (d.field === 'width') spans.set(d.part, toX(view, d.end[0]!) - toX(view, d.start[0]!))
  const rows = widthRows(sketch)
  let heights = 0
  return sketch.dimensions.map((dimension) => {
    const [x0, y0] = [toX(view, dimension.start[0]!), toY(view, dimension.start[1]!)]
    const [x1, y1] = [toX(view, dimension.end[0]!), toY(view, dimension.end[1]!)]
    if (dimension.field === 'width') {
      const y = bottom + ROW * (rows.get(dimension) ?? 0)
      return {
        dimension,
        x: 0.5 * (x0 + x1),
        y,
        upright: false,
        below: true,
        path: `M${x0},${y - 4}v8M${x0},${y}H${x1}M${x1},${y - 4}v8`,
      }
    }
    if (dimension.field === 'height') {
      const span = spans.get(dimension.part) ?? right - left
      const beside = span <= WHOLE * (right - left)
      const x = beside ? x0 + span + 9 : right - (right - left) * (0.13 + 0.11 * (heights++ % 3))
      // Names stand in the middle of the parts; beside a slender one, the label keeps clear of its neighbour's.
      const up = beside && Math.abs(y1 - y0) > CLEAR ? 0.75 : 0.5
      return {
        dimension,
        x,
        y: y0 + up * (y1 - y0),
        upright: true,
        onPart: sketch.parts.some((part) => inside(part.rings, fromX(view, x), 0.5 * (dimension.start[1]! + dimension.end[1]!))),
        span: [Math.min(y0, y1), Math.max(y0, y1)] as [number, number],
        path: `M${x - 4},${y0}h8M${x},${y0}V${y1}M${x - 4},${y1}h8`,
      }
    }
    const [x, y] = [0.5 * (x0 + x1), 0.5 * (y0 + y1)]
    return { dimension, x, y, upright: false, path: `M${x0},${y0}L${x1},${y1}` }
  })
}
