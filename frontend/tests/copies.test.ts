import { describe, expect, it } from 'vitest'

import type { CaseDocument, Condition, Sketch } from '../src/api/client'
import { boxOfCopies, copiesOf, layField, layMesh, mirrorLines } from '../src/sketch/copies'
import type { Field, Polygons } from '../src/sketch/raster'
import { endsOf, giveCondition } from '../src/stages/conditions/give'

/** One square cell of side 1 with its corner at the origin. */
const square: Polygons = {
  nodes: new Float32Array([0, 0, 1, 0, 1, 1, 0, 1]),
  cellStart: new Uint32Array([0, 4]),
  cellNodes: new Uint32Array([0, 1, 2, 3]),
  region: new Uint16Array([0]),
  cells: 1,
}
const field = (name: string, kind: string, value: number): Field => ({
  name,
  kind,
  values: new Float32Array([value]),
  low: value,
  high: value,
})
const goesOn = { period: [2, 0], wall: 300, ratio: 0.5, jump: 0, pressure_drop: 3 }

const edge = (name: string, kind: string, lines: number[][][]) => ({
  name,
  general: name,
  interface: false,
  kind,
  lines,
  length: 1,
  fluid: true,
  flag: '',
  condition: null,
})
const sketch = {
  bounds: [0, 0, 2, 1],
  boundaries: [
    edge('water, left', 'open', [
      [
        [0, 0],
        [0, 1],
      ],
    ]),
    edge('water, right', 'open', [
      [
        [2, 0],
        [2, 1],
      ],
    ]),
    edge('water, bottom', 'symmetry', [
      [
        [0, 0],
        [2, 0],
      ],
    ]),
    edge('water, top', 'adiabatic', [
      [
        [0, 1],
        [2, 1],
      ],
    ]),
    edge('slot', 'symmetry', [
      [
        [1, 0.5],
        [2, 0.5],
      ],
    ]),
  ],
} as unknown as Sketch

describe('copies of a module', () => {
  it('mirrors only at outer planes of symmetry', () => {
    expect(mirrorLines(sketch)).toEqual([{ axis: 'y', at: 0 }])
  })

  it('mirrors a ring about its axis, which it does not touch', () => {
    const ring = { ...sketch, boundaries: [], axisymmetric: true, bounds: [0, 3, 2, 4] } as unknown as Sketch
    expect(mirrorLines(ring)).toEqual([{ axis: 'y', at: 0 }])
    expect(mirrorLines({ ...ring, axisymmetric: false })).toEqual([])
    const box = boxOfCopies({ x0: 0, y0: 3, x1: 2, y1: 4 }, copiesOf(null, 1, mirrorLines(ring)))
    expect(box).toEqual({ x0: 0, y0: -4, x1: 2, y1: 4 })
  })

  it('repeats along the period and mirrors all of it', () => {
    const copies = copiesOf(goesOn, 3, [{ axis: 'y', at: 0 }])
    expect(copies.map((c) => [c.dx, c.fy, c.step])).toEqual([
      [0, 1, 0],
      [2, 1, 1],
      [4, 1, 2],
      [0, -1, 0],
      [2, -1, 1],
      [4, -1, 2],
    ])
    expect(boxOfCopies({ x0: 0, y0: 0, x1: 2, y1: 1 }, copies)).toEqual({ x0: 0, y0: -1, x1: 6, y1: 1 })
    expect(copiesOf(null, 3, [])).toHaveLength(1)
  })

  it('lays meshes and fields as they go on', () => {
    const copies = copiesOf(goesOn, 2, [{ axis: 'y', at: 0 }])
    const mesh = layMesh(square, copies)
    expect(mesh.cells).toBe(4)
    expect([...mesh.nodes.slice(8, 12)]).toEqual([2, 0, 3, 0])
    expect(mesh.nodes[2 * mesh.cellNodes[mesh.cellStart[2]! + 2]! + 1]).toBe(-1)
    // Differences from the wall at 300 K are halved from module to module; pressure falls; velocities are mirrored.
    expect([...layField(field('temperature', 'temperature', 280), copies, goesOn).values]).toEqual([280, 290, 280, 290])
    expect([...layField(field('pressure', 'pressure', 1), copies, goesOn).values]).toEqual([1, -2, 1, -2])
    expect([...layField(field('velocity y', 'velocity', 4), copies, goesOn).values]).toEqual([4, 4, -4, -4])
    expect(layField(field('temperature', 'temperature', 280), copies, { ...goesOn, ratio: 1, jump: 5 }).high).toBe(285)
  })
})

describe('the ends of a module', () => {
  it('are told by where they are', () => {
    expect(endsOf(sketch, ['water, right', 'water, left'])).toEqual([['water, left'], ['water, right']])
    expect(endsOf(sketch, ['water, left'])).toBeNull()
  })

  it('stay whole, or the condition goes', () => {
    const periodic = {
      type: 'periodic',
      boundaries: ['water, left'],
      downstream: ['water, right'],
      present: '1',
      temperature: '20 °C',
      modules: '1',
    } as unknown as Condition
    const document = { conditions: [] as Condition[] } as unknown as CaseDocument
    giveCondition(document, ['water, left', 'water, right'], periodic)
    expect(document.conditions).toEqual([periodic])
    giveCondition(document, ['water, left', 'water, right'], { ...periodic, modules: '7' } as Condition, 0)
    expect(document.conditions).toEqual([{ ...periodic, modules: '7' }])
    const symmetry = { type: 'symmetry', boundaries: ['x'], present: '1' } as Condition
    giveCondition(document, ['water, right'], symmetry)
    expect(document.conditions).toEqual([{ ...symmetry, boundaries: ['water, right'] }])
  })
})
