import type { Sketch } from '../api/client'
import { toX, toY, type Viewport } from './viewport'

/** What a fan is drawn as: arrows through its part, in the direction in which it drives; the heads as paths of their own. */
export interface Blowing {
  name: string
  shafts: string
  heads: string
}

/** Length of an arrow, half the width of its head, and the least distance between two, in pixels. */
const ARROW = 30
const HEAD = 5
const APART = 46
const MOST = 5

/** The arrows of all fans of a drawing. */
export function blowing(view: Viewport, sketch: Sketch): Blowing[] {
  return sketch.parts.flatMap((part) => {
    if (part.internal?.kind !== 'fan' || !part.rings.length) return []
    const points = part.rings[0]!.map((p) => [toX(view, p[0]!), toY(view, p[1]!)] as const)
    // On the screen y points down, and both axes may have scales of their own.
    const along = unit(part.internal.direction[0]! * view.sx, -part.internal.direction[1]! * view.sy)
    const across = [-along[1], along[0]] as const
    const places = points.map(([x, y]) => x * across[0] + y * across[1])
    const ways = points.map(([x, y]) => x * along[0] + y * along[1])
    const [low, high] = [Math.min(...places), Math.max(...places)]
    const middle = 0.5 * (Math.min(...ways) + Math.max(...ways))
    const count = Math.max(1, Math.min(MOST, Math.floor((high - low) / APART)))
    const arrows = Array.from({ length: count }, (_, k) => {
      const at = low + ((k + 0.5) / count) * (high - low)
      return [middle * along[0] + at * across[0], middle * along[1] + at * across[1]] as const
    })
    const reach = 0.5 * ARROW
    const point = (x: number, y: number) => `${x.toFixed(1)},${y.toFixed(1)}`
    return [
      {
        name: part.name,
        shafts: arrows
          .map(([x, y]) => {
            const end = reach - HEAD
            return `M${point(x - reach * along[0], y - reach * along[1])}L${point(x + end * along[0], y + end * along[1])}`
          })
          .join(''),
        heads: arrows
          .map(([x, y]) => {
            const [tx, ty] = [x + reach * along[0], y + reach * along[1]]
            const [bx, by] = [tx - 2 * HEAD * along[0], ty - 2 * HEAD * along[1]]
            const [ox, oy] = [HEAD * across[0], HEAD * across[1]]
            return `M${point(tx, ty)}L${point(bx + ox, by + oy)}L${point(bx - ox, by - oy)}Z`
          })
          .join(''),
      },
    ]
  })
}

function unit(x: number, y: number): readonly [number, number] {
  const length = Math.hypot(x, y) || 1
  return [x / length, y / length]
}
