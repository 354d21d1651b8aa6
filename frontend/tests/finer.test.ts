import { describe, expect, it } from 'vitest'

import { finer } from '../src/stages/size/finer'

describe('values between values', () => {
  it('are evenly spaced, with those given among them', () => {
    expect(finer([0, 4, 6], 2)).toEqual([0, 2, 4, 5, 6])
    expect(finer([3], 5)).toEqual([3])
    expect(finer([], 5)).toEqual([])
  })
  it('are nowhere where one of both is not', () => {
    expect(finer([0, NaN, 2], 2).filter(Number.isFinite)).toEqual([0, 2])
  })
})
