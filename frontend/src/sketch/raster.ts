/**
 * Fields as pictures: polygons of any shape are rasterised once into a buffer of cell numbers; colouring, and finding
 * the cell under the cursor, then only look numbers up.
 */
import type { Fields, Mesh } from '../api/client'
import type { Shading } from './shading'
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

export function bytes(text: string): ArrayBuffer {
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

/** A grid as the server packs it: the numbers of nodes, cells and corners, then the arrays. */
export function readPackedMesh(data: ArrayBuffer): Polygons {
  const [nodes, cells, corners] = new Uint32Array(data, 0, 3)
  let at = 12
  const next = <T>(Kind: new (data: ArrayBuffer, at: number, length: number) => T, length: number, size: number) => {
    const array = new Kind(data, at, length)
    at += size * length
    return array
  }
  return {
    nodes: next(Float32Array, 2 * nodes!, 4),
    cellStart: next(Uint32Array, cells! + 1, 4),
    cellNodes: next(Uint32Array, corners!, 4),
    region: next(Uint16Array, cells!, 2),
    cells: cells!,
  }
}

export function readFields(fields: Fields['fields']): Field[] {
  return fields.map((f) => ({ name: f.name, kind: f.kind, values: new Float32Array(bytes(f.values)), low: f.low, high: f.high }))
}

const STEPS = 65_534
const NOTHING = 65_535

/** The fields of a frame as the server keeps them: a heading of names, kinds and ranges, then codes of sixteen bits for each cell. */
export function readPacked(data: ArrayBuffer): Field[] {
  const length = new DataView(data).getUint32(0, true)
  const heading = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, length))) as Omit<Field, 'values'>[]
  const codes = new Uint16Array(data, 4 + length)
  const cells = codes.length / Math.max(heading.length, 1)
  return heading.map((field, i) => {
    const values = new Float32Array(cells)
    const step = (field.high - field.low) / STEPS
    for (let k = 0, at = i * cells; k < cells; k++, at++) {
      const code = codes[at]!
      values[k] = code === NOTHING ? NaN : field.low + code * step
    }
    return { ...field, values }
  })
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

/** How a field is painted over the range low..high. */
export interface Paint {
  low: number
  high: number
  /** 256 colours, and those of values outside the band of interest. */
  table: Uint32Array
  grey: Uint32Array
  /** Number of bands; 0 for smooth shading. */
  bands: number
  /** Values that keep their colour; all when null. */
  band: [number, number] | null
  /** By region, whether it is left out. */
  hidden: boolean[]
}

/** Paint a field; cells without a value, and those of hidden regions, stay clear. */
export function colour(
  ids: Int32Array,
  width: number,
  shading: Shading,
  region: Uint16Array,
  view: Viewport,
  ratio: number,
  paint: Paint,
  out: Uint32Array,
): void {
  const { values, slopes: slope, middles: middle } = shading
  const { low, high, table, grey, bands, band, hidden } = paint
  const scale = high > low ? 255 / (high - low) : 0
  const some = hidden.some(Boolean)
  const [from, to] = band ?? [-Infinity, Infinity]
  const [dx, dy] = [1 / (ratio * view.sx), 1 / (ratio * view.sy)]
  const left = 0.5 * dx - view.ox / view.sx
  const top = view.oy / view.sy - 0.5 * dy
  for (let row = 0, i = 0; i < ids.length; row++) {
    const y = top - row * dy
    const end = i + width
    // In a row of pixels of one cell the value goes on by equal steps.
    for (let run = i; i < end; i = run) {
      const cell = ids[i]!
      while (run < end && ids[run] === cell) run++
      const at = 2 * cell
      let value = NaN
      if (cell >= 0 && !(some && hidden[region[cell]!])) {
        const x = left + (i - end + width) * dx
        value = values[cell]! + slope[at]! * (x - middle[at]!) + slope[at + 1]! * (y - middle[at + 1]!)
      }
      if (value !== value) {
        out.fill(0, i, run)
        continue
      }
      const more = slope[at]! * dx
      for (let k = i; k < run; k++, value += more) {
        let level = scale ? (value - low) * scale : 127
        level = level <= 0 ? 0 : level >= 255 ? 255 : level
        if (bands > 1) level = (Math.min(bands - 1, Math.floor((level / 255) * bands)) * 255) / (bands - 1)
        out[k] = (value < from || value > to ? grey : table)[(level + 0.5) | 0]!
      }
    }
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

/** The area in each of `bins` equal steps between the field's ends; as shares of the largest. */
export function distribution(field: Field, areas: Float32Array, bins: number, asShares = true): number[] {
  const counts = new Array<number>(bins).fill(0)
  const span = field.high - field.low
  for (let i = 0; i < areas.length; i++) {
    const value = field.values[i]!
    if (value !== value) continue
    const bin = span > 0 ? Math.min(bins - 1, Math.max(0, Math.floor(((value - field.low) / span) * bins))) : bins >> 1
    counts[bin]! += areas[i]!
  }
  if (!asShares) return counts
  const most = Math.max(...counts, 1e-30)
  return counts.map((count) => count / most)
}
