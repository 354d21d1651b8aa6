import { describe, expect, it } from 'vitest'

import { isoLabels, isolines, roundLevels } from '../src/sketch/isolines'
import type { Polygons } from '../src/sketch/raster'
import { latticeOf, shade } from '../src/sketch/shading'
import { particlesAt } from '../src/sketch/streams'
import { bulkAlong, curvesOf, isClosed } from '../src/stages/read/curves'
import type { Profile, Statistics } from '../src/stores/lines'

/** n by n squares of a square of 100 pixels. */
function squares(n: number): Polygons {
  const nodes: number[] = []
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) nodes.push((100 * i) / n, (100 * j) / n)
  const cellNodes: number[] = []
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i
      cellNodes.push(a, a + 1, a + n + 2, a + n + 1)
    }
  return {
    nodes: new Float32Array(nodes),
    cellStart: new Uint32Array(Array.from({ length: n * n + 1 }, (_, k) => 4 * k)),
    cellNodes: new Uint32Array(cellNodes),
    region: new Uint16Array(n * n),
    cells: n * n,
  }
}
const view = { sx: 1, sy: 1, ox: 0, oy: 100 }

describe('iso-lines', () => {
  const mesh = squares(40)
  const lattice = latticeOf(mesh)
  const centres = lattice.middles
  const values = new Float32Array(mesh.cells)
  for (let k = 0; k < mesh.cells; k++) values[k] = Math.hypot(centres[2 * k]! - 50, centres[2 * k + 1]! - 50)
  const shading = shade(lattice, values)

  it('of a cone are circles', () => {
    const [line] = isolines(mesh, shading, [30], view, [])
    let length = 0
    for (const [x0, y0, x1, y1] of line!) {
      expect(Math.hypot(x0 - 50, y0 - 50)).toBeCloseTo(30, 0)
      length += Math.hypot(x1 - x0, y1 - y0)
    }
    expect(length / (60 * Math.PI)).toBeCloseTo(1, 2)
  })

  it('are left out in regions that are hidden', () => {
    expect(isolines(mesh, shading, [30], view, [true])[0]).toEqual([])
  })

  it('have round levels, and labels that keep apart', () => {
    expect(roundLevels(5.9, 72.1, 10)).toEqual([10, 20, 30, 40, 50, 60, 70])
    expect(roundLevels(1, 1, 10)).toEqual([])
    const levels = [10, 20, 30, 40]
    const labels = isoLabels(isolines(mesh, shading, levels, view, []), levels, 100, 100, 20)
    expect(labels.length).toBeGreaterThan(2)
    for (const label of labels) expect(Math.abs(label.turn)).toBeLessThanOrEqual(Math.PI / 2)
  })
})

describe('particles', () => {
  it('stand where their time on the way says', () => {
    const lines = {
      points: new Float32Array([0, 0, 1, 0, 3, 0]),
      start: new Uint32Array([0, 3]),
      time: new Float32Array([-1, 0, 1]),
      cells: new Uint32Array(3),
    }
    expect(particlesAt(lines, 0.5, 10)).toEqual([[0.5, 0]])
    expect(particlesAt(lines, 1.5, 10)).toEqual([[2, 0]])
  })
})

describe('curves along lines', () => {
  const told: Statistics = {
    mean: 320,
    flow_mean: 330,
    integral: 0,
    lowest: 300,
    lowest_at: 0,
    highest: 340,
    highest_at: 1,
    deviation: 1,
    at_wall: 300,
  }
  const profile = (x: number): Profile => ({
    name: `row at x ${x}`,
    length: 2,
    area: 1,
    massFlow: 1,
    along: new Float32Array([0, 1, 2]),
    x: new Float32Array([x, x, x]),
    y: new Float32Array([0, 1, 2]),
    fields: new Map([['temperature', { kind: 'temperature', values: new Float32Array([300, 330, 340]), statistics: told }]]),
  })

  it('are plain, or run from the wall to the bulk', () => {
    const at = { frame: 0, time: null, profiles: [profile(0)] }
    expect(curvesOf(at, 'row', 'temperature', 'along', 'plain')[0]!.y).toEqual([300, 330, 340])
    const scaled = curvesOf(at, 'row', 'temperature', 'share', 'temperature')[0]!
    expect(scaled.y[1]).toBeCloseTo(1)
    expect(scaled.x).toEqual([0, 0.5, 1])
    expect(curvesOf(at, 'row', 'age', 'along', 'plain')).toEqual([])
  })

  it('of a row of stations give the bulk along the stream', () => {
    const [curve] = bulkAlong({ frame: 0, time: null, profiles: [profile(0), profile(5)] }, 'row', 'temperature')
    expect([curve!.x, curve!.y]).toEqual([
      [0, 5],
      [330, 330],
    ])
  })

  it('know a line that comes back to where it begins', () => {
    const turn = Array.from({ length: 12 }, (_, k) => (2 * Math.PI * (k + 0.5)) / 12)
    const round = { ...profile(0), length: 2 * Math.PI, x: Float32Array.from(turn, Math.cos), y: Float32Array.from(turn, Math.sin) }
    expect(isClosed(round)).toBe(true)
    expect(isClosed({ ...round, x: Float32Array.from(turn), y: new Float32Array(12) })).toBe(false)
  })
})
