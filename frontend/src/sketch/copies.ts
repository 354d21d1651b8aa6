import type { Sketch } from '../api/client'
import type { Field, Polygons } from './raster'
import type { Box } from './viewport'

/** A copy of the section as it lies in the drawing: x becomes fx·x + dx, y becomes fy·y + dy, `step` modules further on. */
export interface Copy {
  fx: number
  dx: number
  fy: number
  dy: number
  step: number
}

/** How the fields of a module go on from one to the next. */
export interface GoesOn {
  period: number[]
  wall: number
  ratio: number
  jump: number
  pressure_drop: number
}

/** A line along an edge of the section that it can be mirrored at. */
export interface MirrorLine {
  axis: 'x' | 'y'
  at: number
}

const ITSELF: Copy = { fx: 1, dx: 0, fy: 1, dy: 0, step: 0 }

/** The outermost straight planes of symmetry, each once, and the axis of what turns about one, however far it is. */
export function mirrorLines(sketch: Sketch): MirrorLine[] {
  const [x0, y0, x1, y1] = sketch.bounds as [number, number, number, number]
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-6 * Math.max(x1 - x0, y1 - y0)
  const points = sketch.boundaries.filter((b) => b.kind === 'symmetry').map((b) => b.lines.flat())
  const edges: [MirrorLine, number][] = [
    [{ axis: 'y', at: y0 }, 1],
    [{ axis: 'y', at: y1 }, 1],
    [{ axis: 'x', at: x0 }, 0],
    [{ axis: 'x', at: x1 }, 0],
  ]
  const found = edges
    .filter(([line, k]) => points.some((p) => p.length > 0 && p.every((q) => near(q[k]!, line.at))))
    .map(([line]) => line)
  const touches = found.some((line) => line.axis === 'y' && near(line.at, 0))
  return sketch.axisymmetric && !touches ? [...found, { axis: 'y', at: 0 }] : found
}

/** The section with `count` modules behind each other, all mirrored at each of the lines. */
export function copiesOf(goesOn: GoesOn | null, count: number, lines: MirrorLine[]): Copy[] {
  let copies: Copy[] = []
  for (let step = 0; step < (goesOn ? count : 1); step++)
    copies.push({ ...ITSELF, dx: step * (goesOn?.period[0] ?? 0), dy: step * (goesOn?.period[1] ?? 0), step })
  for (const { axis, at } of lines) {
    const images = copies.map((c) =>
      axis === 'x' ? { ...c, fx: -c.fx, dx: 2 * at - c.dx } : { ...c, fy: -c.fy, dy: 2 * at - c.dy },
    )
    copies = [...copies, ...images]
  }
  return copies
}

/** The box around all copies of a box. */
export function boxOfCopies(box: Box, copies: Copy[]): Box {
  const xs = copies.flatMap((c) => [c.fx * box.x0 + c.dx, c.fx * box.x1 + c.dx])
  const ys = copies.flatMap((c) => [c.fy * box.y0 + c.dy, c.fy * box.y1 + c.dy])
  return { x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) }
}

/** One mesh of all copies, copy by copy. */
export function layMesh(mesh: Polygons, copies: Copy[]): Polygons {
  if (copies.length === 1) return mesh
  const [nodes, corners, cells] = [mesh.nodes.length, mesh.cellNodes.length, mesh.cells]
  const laid: Polygons = {
    nodes: new Float32Array(nodes * copies.length),
    cellStart: new Uint32Array(cells * copies.length + 1),
    cellNodes: new Uint32Array(corners * copies.length),
    region: new Uint16Array(cells * copies.length),
    cells: cells * copies.length,
  }
  copies.forEach((c, i) => {
    for (let k = 0; k < nodes; k += 2) {
      laid.nodes[i * nodes + k] = c.fx * mesh.nodes[k]! + c.dx
      laid.nodes[i * nodes + k + 1] = c.fy * mesh.nodes[k + 1]! + c.dy
    }
    for (let k = 0; k < corners; k++) laid.cellNodes[i * corners + k] = mesh.cellNodes[k]! + (i * nodes) / 2
    for (let k = 0; k <= cells; k++) laid.cellStart[i * cells + k] = mesh.cellStart[k]! + i * corners
    laid.region.set(mesh.region, i * cells)
  })
  return laid
}

/** A field in all copies: temperatures and pressures as they go on from module to module, velocities as they are mirrored. */
export function layField(field: Field, copies: Copy[], goesOn: GoesOn | null): Field {
  if (copies.length === 1) return field
  const cells = field.values.length
  const values = new Float32Array(cells * copies.length)
  copies.forEach((c, i) => {
    let [factor, shift] = [1, 0]
    if (goesOn && field.kind === 'temperature') {
      factor = goesOn.ratio ** c.step
      shift = goesOn.wall * (1 - factor) + goesOn.jump * c.step
    } else if (goesOn && field.name === 'pressure') shift = -goesOn.pressure_drop * c.step
    else if (field.name === 'velocity x') factor = c.fx
    else if (field.name === 'velocity y') factor = c.fy
    for (let k = 0; k < cells; k++) values[i * cells + k] = factor * field.values[k]! + shift
  })
  let [low, high] = [Infinity, -Infinity]
  for (const value of values) {
    if (value < low) low = value
    if (value > high) high = value
  }
  return { ...field, values, low, high }
}
