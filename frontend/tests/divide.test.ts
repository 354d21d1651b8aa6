import { describe, expect, it } from 'vitest'

import type { CaseDocument } from '../src/api/client'
import { divideSide } from '../src/stages/draw/divide'

function box(): CaseDocument {
  return {
    section: { parts: [{ name: 'box', shape: { type: 'rectangle', width: '4 m', height: '2 m', divided: {} } }] },
    conditions: [
      { type: 'inlet', boundaries: ['box, left'] },
      { type: 'wall', boundaries: ['box, top', 'box, bottom'] },
    ],
    grid: { local: [{ at: ['box, left'], fineness: 2 }] },
  } as unknown as CaseDocument
}
const on = (document: CaseDocument) => document.conditions.map((condition) => condition.boundaries)

describe('dividing a side', () => {
  it('puts what stood on it on all its pieces', () => {
    const document = box()
    divideSide(document, 0, 'left', ['1 m'])
    expect(on(document)).toEqual([
      ['box, left 1', 'box, left 2'],
      ['box, top', 'box, bottom'],
    ])
    expect(document.grid.local[0]!.at).toEqual(['box, left 1', 'box, left 2'])
  })

  it('keeps what stands on pieces when one more comes, and gives it the last one condition', () => {
    const document = box()
    divideSide(document, 0, 'left', ['1 m'])
    document.conditions[0]!.boundaries = ['box, left 2']
    document.conditions[1]!.boundaries.push('box, left 1')
    divideSide(document, 0, 'left', ['1 m', '1.5 m'])
    expect(on(document)).toEqual([
      ['box, left 2', 'box, left 3'],
      ['box, top', 'box, bottom', 'box, left 1'],
    ])
  })

  it('leaves one condition on a side that is whole again', () => {
    const document = box()
    divideSide(document, 0, 'left', ['1 m'])
    document.conditions[0]!.boundaries = ['box, left 2']
    document.conditions[1]!.boundaries.push('box, left 1')
    divideSide(document, 0, 'left', [])
    expect(on(document)).toEqual([['box, left'], ['box, top', 'box, bottom']])
  })
})
