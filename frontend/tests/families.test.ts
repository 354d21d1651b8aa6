import { describe, expect, it } from 'vitest'

import { familiesAlong, sheetOver } from '../src/stages/vary/families'
import type { SeriesOut, SeriesPoint } from '../src/stores/series'

const point = (number: number, values: string[], place: (number | null)[]): SeriesPoint =>
  ({
    number,
    values,
    place,
    hand: [10 * number],
    solved: [],
    plus_minus: [],
    run: null,
    state: '',
    fraction: 0,
    problem: '',
  }) as SeriesPoint
const series = (points: SeriesPoint[]): SeriesOut =>
  ({
    varied: [
      { name: 'length', label: 'length', kind: 'length', unit: 'm' },
      { name: 'power', label: 'power', kind: 'power', unit: 'W' },
    ],
    quantities: [],
    points,
  }) as unknown as SeriesOut
const FOUR = [
  point(0, ['2 m', '5 W'], [2, 5]),
  point(1, ['1 m', '5 W'], [1, 5]),
  point(2, ['1 m', '7 W'], [1, 7]),
  point(3, ['2 m', '7 W'], [2, 7]),
]

describe('points along one input', () => {
  it('stand in its order, a family for each value of the other', () => {
    const found = familiesAlong(series(FOUR), 0)
    expect(found.map((f) => [f.name, f.points.map((p) => p.number)])).toEqual([
      ['5 W', [1, 0]],
      ['7 W', [2, 3]],
    ])
  })
})

describe('a sheet over two inputs', () => {
  it('has the values row by row from below', () => {
    const sheet = sheetOver(series(FOUR), 0, 1, FOUR[0]!, (p) => p.hand[0]!)
    expect(sheet).toMatchObject({ x: [1, 2], y: [5, 7], values: [10, 0, 20, 30] })
  })

  it('needs all combinations', () => {
    expect(sheetOver(series(FOUR.slice(0, 3)), 0, 1, FOUR[0]!, (p) => p.hand[0]!)).toBeNull()
    expect(sheetOver(series(FOUR.slice(0, 2)), 0, 1, FOUR[0]!, (p) => p.hand[0]!)).toBeNull()
  })
})
