import { describe, expect, it } from 'vitest'

import type { Sketch } from '../src/api/client'
import { blowing } from '../src/sketch/internals'
import type { Viewport } from '../src/sketch/viewport'

const view = { sx: 100, sy: 100, ox: 0, oy: 400 } as Viewport
const fan = (direction: [number, number], height: number) =>
  ({
    parts: [
      {
        name: 'fan',
        origin: 'fan',
        material: 'Air',
        fluid: true,
        rings: [
          [
            [1, 0],
            [1.2, 0],
            [1.2, height],
            [1, height],
          ],
        ],
        internal: { kind: 'fan', flag: '50 Pa', direction, curve: [] },
      },
    ],
  }) as unknown as Sketch
/** The tip of the first head, and the two corners behind it. */
const corners = (path: string) => [...path.matchAll(/([-\d.]+),([-\d.]+)/g)].slice(0, 3).map((m) => [Number(m[1]), Number(m[2])])

describe('arrows of fans', () => {
  it('points the way it blows', () => {
    const [tip, one] = corners(blowing(view, fan([1, 0], 1))[0]!.heads)
    expect(tip![0]!).toBeGreaterThan(one![0]!)
    const [other, two] = corners(blowing(view, fan([-1, 0], 1))[0]!.heads)
    expect(other![0]!).toBeLessThan(two![0]!)
  })
  it('has more arrows where there is room', () => {
    const count = (height: number) => (blowing(view, fan([1, 0], height))[0]!.shafts.match(/M/g) ?? []).length
    expect(count(0.3)).toBe(1)
    expect(count(2)).toBe(4)
    expect(count(40)).toBe(5)
  })
  it('draws nothing for what is no fan', () => {
    const sketch = fan([1, 0], 1)
    sketch.parts[0]!.internal!.kind = 'porous'
    expect(blowing(view, sketch)).toEqual([])
  })
})
