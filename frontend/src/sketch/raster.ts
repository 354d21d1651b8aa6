/**
 * Fields as pictures: polygons of any shape are rasterised once into a buffer of cell numbers; colouring, and finding
 * the cell under the cursor, then only look numbers up.
 */
import type { Fields, Mesh } from '../api/client'
import { toX, toY, type Viewport } from './viewport'

export interface Polygons {
  nodes: Float32Array
  cellStart: Uint32Array
  cellNodes: Uint32Array
  region: Uint16Array
  cells: number
}

export interface Field {
  name: string
  kind: string
  values: Float32Array
  low: number
  high: number
}

function bytes(text: string): ArrayBuffer {
  const raw = atob(text)
  const out = new Uint8Array(raw.length)
  for (let i = 0; i < raw.length; i++) out[i] = raw.charCodeAt(i)
  return out.buffer
}

export function readMesh(mesh: Mesh): Polygons {
  return {
    nodes: new Float32Array(bytes(mesh.nodes)),
    cellStart: new Uint32Array(bytes(mesh.cell_start)),
    cellNodes: new Uint32Array(bytes(mesh.cell_nodes)),
    region: new Uint16Array(bytes(mesh.region)),
    cells: mesh.cells,
  }
}

export function readFields(fields: Fields['fields']): Field[] {
  return fields.map((f) => ({ name: f.name, kind: f.kind, values: new Float32Array(bytes(f.values)), low: f.low, high: f.high }))
}

/** Which cell each pixel shows; -1 outside. A pixel belongs to the cell that contains its centre. */
export function rasterise(mesh: Polygons, view: Viewport, width: number, height: number, ratio: number): Int32Array {
  const ids = new Int32Array(width * height).fill(-1)
  const crossings: number[] = []
  const { nodes, cellStart, cellNodes } = mesh
  for (let cell = 0; cell < mesh.cells; cell++) {
    const from = cellStart[cell]!
    const to = cellStart[cell + 1]!
    let top = Infinity
    let bottom = -Infinity
    for (let k = from; k < to; k++) {
      const y = toY(view, nodes[2 * cellNodes[k]! + 1]!) * ratio
      if (y < top) top = y
      if (y > bottom) bottom = y
    }
    const first = Math.max(0, Math.ceil(top - 0.5))
    const last = Math.min(height - 1, Math.ceil(bottom - 0.5) - 1)
    for (let row = first; row <= last; row++) {
      const y = row + 0.5
      crossings.length = 0
      for (let k = from, j = to - 1; k < to; j = k++) {
        const a = 2 * cellNodes[k]!
        const b = 2 * cellNodes[j]!
        const ya = toY(view, nodes[a + 1]!) * ratio
        const yb = toY(view, nodes[b + 1]!) * ratio
        if (ya <= y === yb <= y) continue
        const xa = toX(view, nodes[a]!) * ratio
        const xb = toX(view, nodes[b]!) * ratio
        crossings.push(xa + ((y - ya) / (yb - ya)) * (xb - xa))
      }
      if (crossings.length > 2) crossings.sort((p, q) => p - q)
      else if (crossings.length === 2 && crossings[0]! > crossings[1]!) crossings.reverse()
      for (let k = 0; k + 1 < crossings.length; k += 2) {
        const start = Math.max(0, Math.ceil(crossings[k]! - 0.5))
        const end = Math.min(width - 1, Math.ceil(crossings[k + 1]! - 0.5) - 1)
        if (end >= start) ids.fill(cell, row * width + start, row * width + end + 1)
      }
    }
  }
  return ids
}

/**
 * Slopes of a field in every cell (x, y pairs), from averages at the corners within each region: with them a cell is
 * shaded from one side to the other, and no step shows where the grid is coarse. Numbers read at the cursor stay cell values.
 */
export function slopes(mesh: Polygons, values: Float32Array): Float32Array {
  const { nodes, cellStart, cellNodes, region } = mesh
  let regions = 1
  for (const r of region) regions = Math.max(regions, r + 1)
  const sum = new Float64Array((nodes.length / 2) * regions)
  const count = new Uint16Array(sum.length)
  for (let cell = 0; cell < mesh.cells; cell++) {
    for (let k = cellStart[cell]!; k < cellStart[cell + 1]!; k++) {
      const at = cellNodes[k]! * regions + region[cell]!
      sum[at]! += values[cell]!
      count[at]!++
    }
  }
  const result = new Float32Array(2 * mesh.cells)
  for (let cell = 0; cell < mesh.cells; cell++) {
    const from = cellStart[cell]!
    const to = cellStart[cell + 1]!
    let area = 0
    let gx = 0
    let gy = 0
    for (let k = from, j = to - 1; k < to; j = k++) {
      const a = cellNodes[j]!
      const b = cellNodes[k]!
      const dx = nodes[2 * b]! - nodes[2 * a]!
      const dy = nodes[2 * b + 1]! - nodes[2 * a + 1]!
      const [p, q] = [a * regions + region[cell]!, b * regions + region[cell]!]
      const mean = 0.5 * (sum[p]! / count[p]! + sum[q]! / count[q]!) - values[cell]!
      gx += mean * dy
      gy -= mean * dx
      area +=
        0.5 * (nodes[2 * a]! - nodes[2 * cellNodes[from]!]!) * dy -
        0.5 * (nodes[2 * a + 1]! - nodes[2 * cellNodes[from]! + 1]!) * dx
    }
    result[2 * cell] = gx / area
    result[2 * cell + 1] = gy / area
  }
  return result
}

/** Middles of the cells (x, y pairs): the mean of their corners. */
export function middles(mesh: Polygons): Float32Array {
  const result = new Float32Array(2 * mesh.cells)
  for (let cell = 0; cell < mesh.cells; cell++) {
    const from = mesh.cellStart[cell]!
    const to = mesh.cellStart[cell + 1]!
    for (let k = from; k < to; k++) {
      result[2 * cell]! += mesh.nodes[2 * mesh.cellNodes[k]!]! / (to - from)
      result[2 * cell + 1]! += mesh.nodes[2 * mesh.cellNodes[k]! + 1]! / (to - from)
    }
  }
  return result
}

export interface Shading {
  values: Float32Array
  slopes: Float32Array
  middles: Float32Array
}

/** Paint a field through a table of 256 colours over the range low..high; cells without a value stay clear. */
export function colour(
  ids: Int32Array,
  width: number,
  shading: Shading,
  view: Viewport,
  ratio: number,
  low: number,
  high: number,
  table: Uint32Array,
  out: Uint32Array,
): void {
  const { values, slopes: slope, middles: middle } = shading
  const scale = high > low ? 255 / (high - low) : 0
  for (let i = 0; i < ids.length; i++) {
    const cell = ids[i]!
    if (cell < 0) {
      out[i] = 0
      continue
    }
    const x = ((i % width) + 0.5) / ratio
    const y = (Math.floor(i / width) + 0.5) / ratio
    const dx = (x - view.ox) / view.sx - middle[2 * cell]!
    const dy = (view.oy - y) / view.sy - middle[2 * cell + 1]!
    const value = values[cell]! + slope[2 * cell]! * dx + slope[2 * cell + 1]! * dy
    if (value !== value) {
      out[i] = 0
      continue
    }
    const level = scale ? (value - low) * scale : 127
    out[i] = table[level <= 0 ? 0 : level >= 255 ? 255 : (level + 0.5) | 0]!
  }
}

/** Areas of the cells, for a distribution that does not depend on where the grid is fine. */
export function cellAreas(mesh: Polygons): Float32Array {
  const areas = new Float32Array(mesh.cells)
  for (let cell = 0; cell < mesh.cells; cell++) {
    let sum = 0
    const from = mesh.cellStart[cell]!
    const to = mesh.cellStart[cell + 1]!
    const x0 = mesh.nodes[2 * mesh.cellNodes[from]!]!
    const y0 = mesh.nodes[2 * mesh.cellNodes[from]! + 1]!
    for (let k = from, j = to - 1; k < to; j = k++) {
      const a = 2 * mesh.cellNodes[j]!
      const b = 2 * mesh.cellNodes[k]!
      sum += (mesh.nodes[a]! - x0) * (mesh.nodes[b + 1]! - y0) - (mesh.nodes[b]! - x0) * (mesh.nodes[a + 1]! - y0)
    }
    areas[cell] = Math.abs(sum) / 2
  }
  return areas
}

/** Share of the area in each of `bins` equal steps between the field's ends; the largest is 1. */
export function distribution(field: Field, areas: Float32Array, bins: number): number[] {
  const counts = new Array<number>(bins).fill(0)
  const span = field.high - field.low
  for (let i = 0; i < areas.length; i++) {
    const value = field.values[i]!
    if (value !== value) continue
    const bin = span > 0 ? Math.min(bins - 1, Math.floor(((value - field.low) / span) * bins)) : bins >> 1
    counts[bin]! += areas[i]!
  }
  const most = Math.max(...counts, 1e-30)
  return counts.map((count) => count / most)
}
