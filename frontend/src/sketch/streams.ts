import type { Schemas } from '../api/client'
import type { Copy } from './copies'
import { bytes } from './raster'
import type { Up } from './upright'
import { toX, toY, type Viewport } from './viewport'

/** Streamlines one after the other: x, y pairs, where each begins, the time along it, and the cell around each point. */
export interface Streamlines {
  points: Float32Array
  start: Uint32Array
  time: Float32Array
  cells: Uint32Array
}

export function readStreamlines(data: Schemas['StreamlinesOut']): Streamlines {
  return {
    points: new Float32Array(bytes(data.points)),
    start: new Uint32Array(bytes(data.start)),
    time: new Float32Array(bytes(data.time)),
    cells: new Uint32Array(bytes(data.cells)),
  }
}

/** The lines in all copies of a section. */
export function layStreamlines(lines: Streamlines, copies: Copy[], cells: number): Streamlines {
  if (copies.length === 1) return lines
  const n = lines.time.length
  const laid: Streamlines = {
    points: new Float32Array(2 * n * copies.length),
    start: new Uint32Array((lines.start.length - 1) * copies.length + 1),
    time: new Float32Array(n * copies.length),
    cells: new Uint32Array(n * copies.length),
  }
  copies.forEach((c, i) => {
    for (let k = 0; k < n; k++) {
      laid.points[2 * (i * n + k)] = c.fx * lines.points[2 * k]! + c.dx
      laid.points[2 * (i * n + k) + 1] = c.fy * lines.points[2 * k + 1]! + c.dy
      laid.cells[i * n + k] = lines.cells[k]! + i * cells
    }
    laid.time.set(lines.time, i * n)
    for (let k = 0; k < lines.start.length; k++) laid.start[i * (lines.start.length - 1) + k] = lines.start[k]! + i * n
  })
  return laid
}

export function turnedStreamlines(lines: Streamlines, up: Up): Streamlines {
  const points = new Float32Array(lines.points.length)
  for (let k = 0; k < points.length; k += 2) {
    points[k] = lines.points[k + 1]!
    points[k + 1] = up * lines.points[k]!
  }
  return { ...lines, points }
}

/** Draw lines, plain with a rim that shows on any colour, or each piece in the colour of its cell. */
export function drawStreamlines(
  context: CanvasRenderingContext2D,
  lines: Streamlines,
  view: Viewport,
  ratio: number,
  colourOf: ((cell: number) => number) | null,
  plain: [line: string, rim: string],
  palette: string[],
): void {
  const x = (k: number) => toX(view, lines.points[2 * k]!) * ratio
  const y = (k: number) => toY(view, lines.points[2 * k + 1]!) * ratio
  context.lineJoin = 'round'
  const whole = (): void => {
    context.beginPath()
    for (let i = 0; i + 1 < lines.start.length; i++) {
      for (let k = lines.start[i]!; k < lines.start[i + 1]!; k++) {
        if (k === lines.start[i]) context.moveTo(x(k), y(k))
        else context.lineTo(x(k), y(k))
      }
    }
    context.stroke()
  }
  context.lineWidth = (colourOf ? 3.2 : 2.6) * ratio
  context.strokeStyle = plain[1]
  whole()
  if (!colourOf) {
    context.lineWidth = 1.1 * ratio
    context.strokeStyle = plain[0]
    whole()
    return
  }
  // Pieces of one colour are drawn together.
  const paths = palette.map(() => new Path2D())
  for (let i = 0; i + 1 < lines.start.length; i++) {
    for (let k = lines.start[i]! + 1; k < lines.start[i + 1]!; k++) {
      const path = paths[colourOf(lines.cells[k]!)]
      path?.moveTo(x(k - 1), y(k - 1))
      path?.lineTo(x(k), y(k))
    }
  }
  context.lineWidth = 1.7 * ratio
  palette.forEach((style, i) => {
    context.strokeStyle = style
    context.stroke(paths[i]!)
  })
}

/** Small heads that point downstream, one on each line that is long enough. */
export function drawHeads(
  context: CanvasRenderingContext2D,
  lines: Streamlines,
  view: Viewport,
  ratio: number,
  style: [line: string, rim: string],
): void {
  const x = (k: number) => toX(view, lines.points[2 * k]!) * ratio
  const y = (k: number) => toY(view, lines.points[2 * k + 1]!) * ratio
  const size = 5 * ratio
  for (let i = 0; i + 1 < lines.start.length; i++) {
    const [from, to] = [lines.start[i]!, lines.start[i + 1]!]
    let length = 0
    for (let k = from + 1; k < to; k++) length += Math.hypot(x(k) - x(k - 1), y(k) - y(k - 1))
    if (length < 40 * ratio) continue
    let passed = 0
    for (let k = from + 1; k < to; k++) {
      const [dx, dy] = [x(k) - x(k - 1), y(k) - y(k - 1)]
      const step = Math.hypot(dx, dy)
      passed += step
      if (passed < length / 2 || step === 0) continue
      const [ex, ey] = [(dx / step) * size, (dy / step) * size]
      context.beginPath()
      context.moveTo(x(k) + ex, y(k) + ey)
      context.lineTo(x(k) - ex - 0.7 * ey, y(k) - ey + 0.7 * ex)
      context.lineTo(x(k) - ex + 0.7 * ey, y(k) - ey - 0.7 * ex)
      context.closePath()
      context.fillStyle = style[0]
      context.strokeStyle = style[1]
      context.lineWidth = ratio
      context.fill()
      context.stroke()
      break
    }
  }
}

/** Where particles are on their lines at a moment (s since the lines were begun), one every `every` seconds of the way. */
export function particlesAt(lines: Streamlines, moment: number, every: number): [x: number, y: number][] {
  const found: [number, number][] = []
  for (let i = 0; i + 1 < lines.start.length; i++) {
    const [from, to] = [lines.start[i]!, lines.start[i + 1]! - 1]
    if (to <= from) continue
    const first = lines.time[from]!
    const last = lines.time[to]!
    let k = from
    // Lines are out of step with each other, as particles are.
    const offset = (((moment + i * 0.618 * every) % every) + every) % every
    for (let t = first + offset; t <= last; t += every) {
      while (k < to && lines.time[k + 1]! < t) k++
      if (k >= to) break
      const share = (t - lines.time[k]!) / Math.max(lines.time[k + 1]! - lines.time[k]!, 1e-30)
      found.push([
        lines.points[2 * k]! + share * (lines.points[2 * k + 2]! - lines.points[2 * k]!),
        lines.points[2 * k + 1]! + share * (lines.points[2 * k + 3]! - lines.points[2 * k + 1]!),
      ])
    }
  }
  return found
}
