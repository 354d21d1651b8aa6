import type { CaseDocument } from '../api/client'
import { half, minus, plus } from './written'

/** Places of edges as expressions, so that what is snapped to a neighbour goes on touching it when its dimensions change. */

type Part = CaseDocument['section']['parts'][number]

/** An edge or a middle: 0 is the lower end along an axis, 2 the upper one. */
export type Edge = 0 | 1 | 2

/** Lower end, middle and upper end of a part along x and y, as they are written; null for shapes whose ends are no such sums. */
export function edgesOf(part: Part): { x: [string, string, string]; y: [string, string, string] } | null {
  const { shape } = part
  if (part.angle?.trim() || part.mirror?.trim() || part.repeat) return null
  const [x, y] = [shape.x?.trim() || '0 mm', shape.y?.trim() || '0 mm']
  if (shape.type === 'rectangle')
    return {
      x: [x, plus(x, half(shape.width)), plus(x, shape.width)],
      y: [y, plus(y, half(shape.height)), plus(y, shape.height)],
    }
  const across = shape.type === 'circle' ? shape.diameter : shape.type === 'ring' ? shape.outer_diameter : null
  if (across === null) return null
  const about = (at: string): [string, string, string] => [minus(at, half(across)), at, plus(at, half(across))]
  return { x: about(x), y: about(y) }
}

/** Where a part lies (its corner, or its middle) when one of its edges lies at an expression; null where it has no such edge. */
export function placedAt(part: Part, axis: 'x' | 'y', edge: Edge, text: string): string | null {
  const { shape } = part
  if (!edgesOf(part)) return null
  if (shape.type === 'rectangle') {
    const size = axis === 'x' ? shape.width : shape.height
    return edge === 0 ? text : minus(text, edge === 1 ? half(size) : size)
  }
  const across = shape.type === 'circle' ? shape.diameter : shape.type === 'ring' ? shape.outer_diameter : ''
  return edge === 1 ? text : edge === 0 ? plus(text, half(across)) : minus(text, half(across))
}
