import { describe, expect, it } from 'vitest'

import type { CaseDocument, Sketch } from '../src/api/client'
import { back, turnedCopy, turnedPairs, turnedSketch, upOf } from '../src/sketch/upright'

const document = (extent: string, gravity_x: string) => ({ section: { extent }, physics: { gravity_x } }) as unknown as CaseDocument

describe('sections that stand', () => {
  it('are axisymmetric ones with gravity along the axis', () => {
    expect(upOf(document('axisymmetric', '-9.81 m/s^2'))).toBe(1)
    expect(upOf(document('axisymmetric', '9.81 m/s^2'))).toBe(-1)
    expect(upOf(document('axisymmetric', ''))).toBeNull()
    expect(upOf(document('axisymmetric', '0 m/s^2'))).toBeNull()
    expect(upOf(document('flat', '-9.81 m/s^2'))).toBeNull()
  })

  it('have what is up in the room up on the drawing', () => {
    // A ring at x = 2, r = 1, with its bottom at x = 0.
    const sketch = {
      bounds: [0, 0, 3, 1],
      parts: [
        {
          rings: [
            [
              [0, 0],
              [2, 1],
            ],
          ],
        },
      ],
      outlines: [],
      boundaries: [
        {
          lines: [
            [
              [2, 0],
              [2, 1],
            ],
          ],
        },
      ],
      dimensions: [{ field: 'width', start: [0, 0], end: [3, 0] }],
    } as unknown as Sketch
    const up = turnedSketch(sketch, 1)
    expect(up.bounds).toEqual([0, 0, 1, 3])
    expect(up.parts[0]!.rings[0]).toEqual([
      [0, 0],
      [1, 2],
    ])
    // The length along the axis is a height now, and still edits the width.
    expect(up.dimensions[0]).toMatchObject({ field: 'height', edits: 'width', start: [0, 0], end: [0, 3] })
    const down = turnedSketch(sketch, -1)
    expect(down.bounds).toEqual([0, -3, 1, -0])
    expect(down.dimensions[0]).toMatchObject({ start: [0, -3], end: [0, -0] })
  })

  it('are turned back for what is drawn on them', () => {
    for (const up of [1, -1] as const) {
      const [x, y] = turnedPairs(new Float32Array([2, 5]), up)
      expect(back([x!, y!], up)).toEqual([2, 5])
    }
  })

  it('have their mirror images where they belong', () => {
    // Mirrored at the axis: r becomes -r, which is to the left.
    expect(turnedCopy({ fx: 1, dx: 0, fy: -1, dy: 0, step: 0 }, 1)).toMatchObject({ fx: -1, dx: 0, fy: 1, dy: 0 })
    expect(turnedCopy({ fx: -1, dx: 6, fy: 1, dy: 0, step: 0 }, -1)).toMatchObject({ fx: 1, dx: 0, fy: -1, dy: -6 })
  })
})
