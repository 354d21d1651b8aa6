/**
 * Fields shaded from one side of a cell to the other, so that no step shows where the grid is coarse. Numbers read at the
 * cursor stay cell values.
 */
import type { Polygons } from './raster'

/** What shading needs of a mesh, whatever field it shows. */
export interface Lattice {
  mesh: Polygons
  /** Which averaged value each entry of `cellNodes` takes: one for every node and region there. */
  places: Uint32Array
  /** How many cells meet in each place. */
  meeting: Uint16Array
  /** What each corner adds to the slopes of its cell (x, y pairs). */
  weights: Float32Array
  /** Middles of the cells (x, y pairs): the mean of their corners. */
  middles: Float32Array
}

export interface Shading {
  values: Float32Array
  /** One for each entry of `cellNodes`: averages of the cells of one region around a node. */
  corners: Float32Array
  /** In every cell (x, y pairs). */
  slopes: Float32Array
  middles: Float32Array
}

export function latticeOf(mesh: Polygons): Lattice {
  const { nodes, cellStart, cellNodes, region } = mesh
  const regions = region.reduce((most, r) => Math.max(most, r), 0) + 1
  const known = new Int32Array((nodes.length / 2) * regions).fill(-1)
  const places = new Uint32Array(cellNodes.length)
  const weights = new Float32Array(2 * cellNodes.length)
  const middles = new Float32Array(2 * mesh.cells)
  const meeting: number[] = []
  for (let cell = 0; cell < mesh.cells; cell++) {
    const [from, to] = [cellStart[cell]!, cellStart[cell + 1]!]
    const start = 2 * cellNodes[from]!
    let area = 0
    for (let k = from, j = to - 1; k < to; j = k++) {
      const node = cellNodes[k]!
      const [a, b] = [2 * cellNodes[j]!, 2 * node]
      const [dx, dy] = [nodes[b]! - nodes[a]!, nodes[b + 1]! - nodes[a + 1]!]
      area += 0.5 * ((nodes[a]! - nodes[start]!) * dy - (nodes[a + 1]! - nodes[start + 1]!) * dx)
      // Green's theorem: a side adds the mean of its two corners times its normal.
      weights[2 * j]! += 0.5 * dy
      weights[2 * j + 1]! -= 0.5 * dx
      weights[2 * k]! += 0.5 * dy
      weights[2 * k + 1]! -= 0.5 * dx
      middles[2 * cell]! += nodes[b]! / (to - from)
      middles[2 * cell + 1]! += nodes[b + 1]! / (to - from)
      const at = node * regions + region[cell]!
      if (known[at] === -1) known[at] = meeting.push(0) - 1
      places[k] = known[at]!
      meeting[known[at]!]!++
    }
    for (let k = 2 * from; k < 2 * to; k++) weights[k]! /= area
  }
  return { mesh, places, meeting: Uint16Array.from(meeting), weights, middles }
}

export function shade(lattice: Lattice, values: Float32Array): Shading {
  const { mesh, places, meeting, weights, middles } = lattice
  const { cellStart } = mesh
  const sums = new Float64Array(meeting.length)
  for (let cell = 0; cell < mesh.cells; cell++)
    for (let k = cellStart[cell]!; k < cellStart[cell + 1]!; k++) sums[places[k]!]! += values[cell]!
  for (let place = 0; place < sums.length; place++) sums[place]! /= meeting[place]!
  const corners = new Float32Array(places.length)
  const slopes = new Float32Array(2 * mesh.cells)
  for (let cell = 0; cell < mesh.cells; cell++) {
    let [gx, gy] = [0, 0]
    for (let k = cellStart[cell]!; k < cellStart[cell + 1]!; k++) {
      const corner = sums[places[k]!]!
      corners[k] = corner
      gx += (corner - values[cell]!) * weights[2 * k]!
      gy += (corner - values[cell]!) * weights[2 * k + 1]!
    }
    slopes[2 * cell] = gx
    slopes[2 * cell + 1] = gy
  }
  return { values, corners, slopes, middles }
}
