import { describe, expect, it } from 'vitest'

import {
  cellAreas,
  colour,
  distribution,
  rasterise,
  readFields,
  readPacked,
  readPackedMesh,
  readMesh,
  type Paint,
  type Polygons,
} from '../src/sketch/raster'
import { latticeOf, shade } from '../src/sketch/shading'
import type { Viewport } from '../src/sketch/viewport'

/** n by m rectangles of the unit square; the left half is region 0, the right half region 1. */
function squares(n: number, m: number): Polygons {
  const nodes: number[] = []
  for (let j = 0; j <= m; j++) for (let i = 0; i <= n; i++) nodes.push(i / n, j / m)
  const cellNodes: number[] = []
  const region: number[] = []
  for (let j = 0; j < m; j++) {
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i
      cellNodes.push(a, a + 1, a + n + 2, a + n + 1)
      region.push(i < n / 2 ? 0 : 1)
    }
  }
  return {
    nodes: new Float32Array(nodes),
    cellStart: new Uint32Array(Array.from({ length: n * m + 1 }, (_, k) => 4 * k)),
    cellNodes: new Uint32Array(cellNodes),
    region: new Uint16Array(region),
    cells: n * m,
  }
}

const view: Viewport = { sx: 80, sy: 40, ox: 10, oy: 50 }

describe('rasterising', () => {
  it('gives every pixel inside to exactly one cell, the one that contains its centre', () => {
    const mesh = squares(7, 3)
    const ids = rasterise(mesh, view, 100, 60, 1)
    for (let row = 0; row < 60; row++) {
      for (let column = 0; column < 100; column++) {
        const x = (column + 0.5 - 10) / 80
        const y = (50 - row - 0.5) / 40
        const inside = x > 0 && x < 1 && y > 0 && y < 1
        const expected = inside ? Math.floor(y * 3) * 7 + Math.floor(x * 7) : -1
        expect(ids[row * 100 + column]).toBe(expected)
      }
    }
  })

  it('handles polygons that are not convex', () => {
    // An arrow head: the notch at the right belongs to nothing.
    const mesh: Polygons = {
      nodes: new Float32Array([0, 0, 1, 0, 0.5, 0.5, 1, 1, 0, 1]),
      cellStart: new Uint32Array([0, 5]),
      cellNodes: new Uint32Array([0, 1, 2, 3, 4]),
      region: new Uint16Array([0]),
      cells: 1,
    }
    const ids = rasterise(mesh, { sx: 20, sy: 20, ox: 0, oy: 20 }, 20, 20, 1)
    expect(ids[10 * 20 + 5]).toBe(0)
    expect(ids[10 * 20 + 15]).toBe(-1)
    expect(ids[1 * 20 + 15]).toBe(0)
  })

  it('scales with the pixel ratio', () => {
    const one = rasterise(squares(4, 4), view, 100, 60, 1).filter((id) => id >= 0).length
    const two = rasterise(squares(4, 4), view, 200, 120, 2).filter((id) => id >= 0).length
    expect(two).toBe(4 * one)
  })

  it('clips what lies outside the picture', () => {
    const ids = rasterise(squares(4, 4), { sx: 4000, sy: 4000, ox: -2000, oy: 2000 }, 50, 50, 1)
    expect(ids.every((id) => id >= 0)).toBe(true)
  })
})

describe('shading', () => {
  it('finds the slopes of a linear field inside a region and does not look across regions', () => {
    const mesh = squares(8, 4)
    const lattice = latticeOf(mesh)
    const middle = lattice.middles
    const values = new Float32Array(mesh.cells)
    for (let c = 0; c < mesh.cells; c++) values[c] = mesh.region[c] === 0 ? 3 * middle[2 * c]! + middle[2 * c + 1]! : 100
    const slope = shade(lattice, values).slopes
    // A cell away from every edge of its region: second column, second row.
    expect(slope[2 * 9]).toBeCloseTo(3, 4)
    expect(slope[2 * 9 + 1]).toBeCloseTo(1, 4)
    // The right half is flat up to the interface.
    expect(slope[2 * 12]).toBeCloseTo(0, 5)
  })

  it('maps values to colours, clamps beyond the range and leaves holes clear', () => {
    const mesh = squares(2, 1)
    const laid = { sx: 4, sy: 1, ox: 0, oy: 1 }
    const ids = rasterise(mesh, laid, 4, 1, 1)
    const table = new Uint32Array(256).map((_, i) => i + 1)
    const grey = table.map((word) => word + 1000)
    const out = new Uint32Array(4)
    const flat = new Float32Array(4)
    const shading = {
      values: new Float32Array([-5, 2.55]),
      corners: new Float32Array(8),
      slopes: flat,
      middles: latticeOf(mesh).middles,
    }
    const paint: Paint = { low: 0, high: 2.55, table, grey, bands: 0, band: null, hidden: [] }
    const painted = (more: Partial<Paint> = {}, values = shading.values) => {
      colour(ids, 4, { ...shading, values }, mesh.region, laid, 1, { ...paint, ...more }, out)
      return [...out]
    }
    expect(painted()).toEqual([1, 1, 256, 256])
    expect(painted({}, new Float32Array([NaN, 1]))[0]).toBe(0)
    // A range without extent shows the middle of the map.
    expect(painted({ low: 1, high: 1 }, new Float32Array([1, 1]))[0]).toBe(128)
    // Outside the band of interest all is grey; a region can be left out.
    expect(painted({ band: [0, 3] })).toEqual([1001, 1001, 256, 256])
    expect(painted({ hidden: [false, true] })).toEqual([1, 1, 0, 0])
    // Four bands: the third covers a half to three quarters.
    expect(painted({ bands: 4 }, new Float32Array([0.6 * 2.55, 2.55]))).toEqual([171, 171, 256, 256])
  })
})

describe('distribution', () => {
  it('weighs by area, not by the number of cells', () => {
    const mesh = squares(4, 1)
    // The last cell is made three times as wide.
    for (const k of [4, 9]) mesh.nodes[2 * k] = 1.5
    const areas = cellAreas(mesh)
    expect(areas[3]! / areas[0]!).toBeCloseTo(3, 5)
    const field = { name: 't', kind: 'temperature', values: new Float32Array([0, 0, 0, 10]), low: 0, high: 10 }
    const bins = distribution(field, areas, 2)
    expect(bins[0]).toBeCloseTo(1, 5)
    expect(bins[1]).toBeCloseTo(1, 5)
  })

  it('survives fields without extent and with holes', () => {
    const mesh = squares(2, 1)
    const field = { name: 't', kind: 'temperature', values: new Float32Array([7, NaN]), low: 7, high: 7 }
    expect(distribution(field, cellAreas(mesh), 4)).toEqual([0, 0, 1, 0])
  })
})

describe('reading what the server sends', () => {
  const base64 = (array: Float32Array | Uint32Array | Uint16Array) => btoa(String.fromCharCode(...new Uint8Array(array.buffer)))

  it('unpacks meshes and fields', () => {
    const mesh = squares(2, 2)
    const sent = {
      nodes: base64(mesh.nodes),
      cell_start: base64(mesh.cellStart),
      cell_nodes: base64(mesh.cellNodes),
      region: base64(mesh.region),
      cells: 4,
      quality: {},
      worst: [],
    }
    expect(readMesh(sent)).toEqual(mesh)
    const fields = readFields([{ name: 'p', kind: 'pressure', values: base64(new Float32Array([1, 2, 3, 4])), low: 1, high: 4 }])
    expect([...fields[0]!.values]).toEqual([1, 2, 3, 4])
  })
})

describe('frames as they are kept', () => {
  it('reads codes of sixteen bits over the range of each field', () => {
    const heading = JSON.stringify([
      { name: 'temperature', kind: 'temperature', low: 280, high: 300 },
      { name: 'speed', kind: 'velocity', low: 0, high: 1 },
    ])
    const text = new TextEncoder().encode(heading.length % 2 ? `${heading} ` : heading)
    const data = new ArrayBuffer(4 + text.length + 2 * 2 * 3)
    new DataView(data).setUint32(0, text.length, true)
    new Uint8Array(data, 4, text.length).set(text)
    new Uint16Array(data, 4 + text.length).set([0, 65_534, 32_767, 65_535, 0, 65_534])
    const [temperature, speed] = readPacked(data)
    expect([...temperature!.values]).toEqual([280, 300, 290])
    expect([...speed!.values]).toEqual([NaN, 0, 1])
  })

  it('reads a grid: two triangles of two regions', () => {
    const data = new ArrayBuffer(12 + 32 + 12 + 24 + 4)
    new Uint32Array(data, 0, 3).set([4, 2, 6])
    new Float32Array(data, 12, 8).set([0, 0, 1, 0, 1, 1, 0, 1])
    new Uint32Array(data, 44, 9).set([0, 3, 6, 0, 1, 2, 0, 2, 3])
    new Uint16Array(data, 80, 2).set([0, 7])
    const mesh = readPackedMesh(data)
    expect([...cellAreas(mesh)]).toEqual([0.5, 0.5])
    expect([...mesh.region]).toEqual([0, 7])
  })
})
