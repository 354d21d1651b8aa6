import { describe, expect, it } from 'vitest'

import type { CaseDocument } from '../src/api/client'
import type { Key } from '../src/quantity/keys'
import { renamePart } from '../src/stages/draw/rename'

const key = (quantity: Key['quantity'], place = '', other = ''): Key => ({ quantity, place, other, of: null })

/** A document that calls its part `water` by name wherever one can. */
function called(name: string): CaseDocument {
  return {
    section: { parts: [{ name, radiation: { surfaces: [{ surface: `waterproof | ${name}` }] } }, { name: 'waterproof' }] },
    conditions: [
      { type: 'inlet', boundaries: [`${name}, left`, 'waterproof, left'] },
      { type: 'periodic', boundaries: [`${name}, left`], downstream: [`${name}, right`] },
    ],
    contacts: [{ between: [name, 'waterproof'] }],
    grid: { local: [{ at: [`${name} | waterproof`, `${name} 3`, `${name} 3, outside`] }] },
    time: { part_temperatures: { [name]: '20 degC', waterproof: '10 degC' } },
    watches: [key('heat_out', `${name}, left`), key('liquid_fraction', name), key('outlet_temperature', name)],
    wanted: [
      key('pressure_drop', name),
      key('mean_temperature', `${name} | waterproof`),
      { ...key('time_to_95'), of: key('reynolds_number', name) },
      key('torque_to_turn', `${name}, side 1`),
      key('heat_between', `${name} 3`, 'waterproof'),
      key('heat_between', 'waterproof 2', name),
      key('surface_h', `waterproof | ${name}`, name),
      key('outlet_temperature', 'waterproof'),
      key('effectiveness'),
    ].map((wanted) => ({ key: wanted, target: '', sense: 'at_least' })),
    series: {
      varied: [
        { input: 'water', material_of: '' },
        { input: '', material_of: name },
      ],
    },
    sizing: {
      chosen: [{ varied: [{ input: 'water', material_of: '' }] }, { varied: [{ input: '', material_of: name }] }],
      goals: [{ key: key('h', name), target: '' }],
      aim: { key: key('mass', name) },
      second: { key: null, expression: 'water' },
    },
    estimates: [
      {
        relation: 'layers',
        hot: 'water',
        layers: [{ part: name, thickness: 'water' }],
        key: key('heat_between', 'waterproof', name),
      },
    ],
  } as unknown as CaseDocument
}

describe('renaming a part', () => {
  it('changes every place that calls it by its name, and nothing else', () => {
    const document = called('water')
    renamePart(document, 0, 'whey')
    // An input of the same name stays in the hand calculation's expressions.
    expect(document).toEqual(called('whey'))
  })

  it('follows the roles of a hand calculation, in lists too', () => {
    const document = called('water')
    document.estimates[0] = {
      relation: 'insulated_pipe',
      fluid: 'water',
      layers: ['water', 'waterproof'],
      ambient: 'water',
    } as unknown as CaseDocument['estimates'][number]
    renamePart(document, 0, 'whey')
    expect(document.estimates[0]).toEqual({
      relation: 'insulated_pipe',
      fluid: 'whey',
      layers: ['whey', 'waterproof'],
      ambient: 'water',
    })
    document.estimates[0] = {
      relation: 'counterflow_plates',
      hot: 'whey',
      cold: 'waterproof',
      wall: 'plate',
    } as unknown as CaseDocument['estimates'][number]
    renamePart(document, 0, 'water')
    expect(document.estimates[0]).toMatchObject({ hot: 'water', cold: 'waterproof' })
  })

  it('takes names with signs in them as they are', () => {
    const document = called('water (hot) 1.5')
    renamePart(document, 0, 'a+b')
    expect(document.conditions[0]!.boundaries[0]).toBe('a+b, left')
    expect(document.wanted[2]!.key).toMatchObject({ quantity: 'time_to_95', of: { place: 'a+b' } })
  })

  it('leaves all as it is when the name stays, or when there is no such part', () => {
    const document = called('water')
    renamePart(document, 0, 'water')
    renamePart(document, 7, 'whey')
    expect(document).toEqual(called('water'))
  })
})
