import { describe, expect, it } from 'vitest'

import { fastestOf, roundBelow } from '../src/sketch/arrows'

describe('the key of arrows', () => {
  it('has a round speed that some arrow reaches', () => {
    expect([0.0123, 9.99, 5, 2, 1.99, 340].map(roundBelow)).toEqual([0.01, 5, 5, 2, 1, 200])
  })

  it('knows the fastest speed of a field, whatever its direction', () => {
    expect(fastestOf(Float32Array.of(3, 0, -1), Float32Array.of(-4, 0, 2))).toBeCloseTo(5, 6)
  })
})
