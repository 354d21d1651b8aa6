import { describe, expect, it } from 'vitest'

import type { CaseDocument, Condition } from '../src/api/client'
import { giveCondition, holds } from '../src/stages/conditions/give'

const wall = (boundaries: string[], fields = {}) =>
  ({ type: 'wall', boundaries, present: '1', thermal: 'adiabatic', ...fields }) as unknown as Condition

describe('holds', () => {
  const heated = wall(['a'], { thermal: 'heat_flux', heat_flux: ' 5 kW/m² ', heat_rate: ' ' })
  it('asks for all fields that are named', () => {
    expect(holds(heated, { type: ['wall'], thermal: ['temperature', 'heat_flux'] })).toBe(true)
    expect(holds(heated, { type: ['wall'], thermal: ['temperature'] })).toBe(false)
    expect(holds(heated, {})).toBe(true)
  })
  it('takes * for anything that is not empty, and an empty value for one that is', () => {
    expect(holds(heated, { heat_flux: ['*'] })).toBe(true)
    expect(holds(heated, { heat_rate: ['*'] })).toBe(false)
    expect(holds(heated, { heat_rate: [''], no_such_field: [''] })).toBe(true)
  })
})

describe('giveCondition', () => {
  const given = (conditions: Condition[]) => ({ conditions }) as unknown as CaseDocument
  it('takes boundaries out of the conditions they had', () => {
    const document = given([wall(['a', 'b']), wall(['c'])])
    giveCondition(document, ['b', 'c'], wall(['x'], { thermal: 'temperature' }))
    expect(document.conditions.map((c) => [c.boundaries, (c as { thermal?: string }).thermal])).toEqual([
      [['a'], 'adiabatic'],
      [['b', 'c'], 'temperature'],
    ])
  })
  it('ends a module that loses a boundary of one of its ends', () => {
    const module = {
      type: 'periodic',
      boundaries: ['left'],
      downstream: ['right'],
      present: '1',
      temperature: '20 °C',
    } as unknown as Condition
    const document = given([module])
    giveCondition(document, ['right'], wall(['x']))
    expect(document.conditions.map((c) => [c.type, c.boundaries])).toEqual([['wall', ['right']]])
  })
})
