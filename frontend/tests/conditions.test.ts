import { describe, expect, it } from 'vitest'

import type { CaseDocument, Condition } from '../src/api/client'
import { giveCondition, holds, insteadOf } from '../src/stages/conditions/give'

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

describe('insteadOf', () => {
  const convection = {
    when: { type: ['wall'], thermal: ['convection'] },
    gives: { thermal: 'convection', heat_transfer_coefficient: '10 W/m^2/K', ambient_temperature: '20 °C' },
  }
  const temperature = {
    when: { type: ['wall'], thermal: ['temperature'] },
    gives: { thermal: 'temperature', temperature: '20 °C' },
  }
  const empty = { temperature: '', heat_transfer_coefficient: '', ambient_temperature: '', angular_velocity: '', slide_x: '' }
  const inlet = (fields = {}) =>
    ({
      type: 'inlet',
      boundaries: ['x'],
      present: '1',
      temperature: '20 degC',
      angular_velocity: '',
      ...fields,
    }) as unknown as Condition

  it('keeps what a wall means whatever it gives, and goes there and back without a loss', () => {
    const held = wall(['a'], { ...empty, thermal: 'temperature', temperature: 'hot', slide_x: '1 m/s', present: 'on' })
    const open = insteadOf(held, wall(['x'], { ...empty, ...convection.gives }), convection)
    expect(open).toMatchObject({
      thermal: 'convection',
      heat_transfer_coefficient: '10 W/m^2/K',
      ambient_temperature: 'hot',
      slide_x: '1 m/s',
      present: 'on',
    })
    const typed = { ...open, heat_transfer_coefficient: '55 W/m²K' } as unknown as Condition
    const back = insteadOf(typed, wall(['x'], { ...empty, ...temperature.gives }), temperature)
    expect(back).toMatchObject({ thermal: 'temperature', temperature: 'hot', slide_x: '1 m/s' })
    expect(insteadOf(back, wall(['x'], { ...empty, ...convection.gives }), convection)).toMatchObject({
      heat_transfer_coefficient: '55 W/m²K',
    })
  })

  it('hands how warm it is, and how fast it turns, to another type', () => {
    const turning = wall(['a'], { ...empty, thermal: 'convection', ambient_temperature: 'room', angular_velocity: '60 rpm' })
    const option = { when: { type: ['inlet'] }, gives: { mass_flow: '1 g/s', temperature: '20 degC' } }
    expect(insteadOf(turning, inlet({ mass_flow: '1 g/s' }), option)).toMatchObject({
      type: 'inlet',
      temperature: 'room',
      angular_velocity: '60 rpm',
      mass_flow: '1 g/s',
    })
  })

  it('is what is fresh where there was nothing', () => {
    expect(insteadOf(null, inlet(), { when: {}, gives: {} })).toEqual(inlet())
  })
})
