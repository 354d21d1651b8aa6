import { describe, expect, it } from 'vitest'

import type { CaseDocument } from '../src/api/client'
import { placeInWords } from '../src/quantity/places'

const document = {
  inputs: { length: { label: 'plate length' } },
  section: { parts: [{ name: 'cold' }] },
  conditions: [{ boundaries: ['hot, left'] }],
  contacts: [{ between: ['hot', 'plate'] }],
} as unknown as CaseDocument

describe('where something was entered', () => {
  it('is told in words, never by a path', () => {
    for (const [path, words] of [
      ['inputs.length', 'plate length'],
      ['inputs.length.unit', 'plate length'],
      ['section.parts', 'parts'],
      ['section.parts[0].shape.width', 'cold: width'],
      ['conditions[0].heat_transfer_coefficient', 'condition on hot, left: heat transfer coefficient'],
      ['contacts[0].between', 'contact of hot and plate: between'],
      ['section.depth', 'depth'],
      ['time.frames[0]', 'times: frames'],
      ['grid.fineness', 'grid: fineness'],
    ])
      expect(placeInWords(path!, document)).toBe(words)
  })
})
