import type { Viewport } from './viewport'

const STEP = 34
/** Length of the fastest arrow, in pixels. */
export const LONGEST = 26

/** How arrows are drawn: how close they stand and how long they are as multiples, in one length, or in the colours of a map by speed. */
export interface ArrowLook {
  density: number
  length: number
  even: boolean
  coloured: boolean
}
export const PLAIN_ARROWS: ArrowLook = { density: 1, length: 1, even: false, coloured: false }
/** Slower than this share of the fastest, fluid has no arrow. */
export const SLOWEST = 0.02

/** The fastest speed of a field. */
export function fastestOf(u: Float32Array, v: Float32Array): number {
  let fastest = 0
  for (let i = 0; i < u.length; i++) {
    const speed = Math.hypot(u[i]!, v[i]!)
    if (speed > fastest) fastest = speed
  }
  return fastest
}

/** The largest of 1, 2, 5, 10, 20 … that is not above a number. */
export function roundBelow(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value))
  return ([5, 2, 1].find((digit) => digit * power <= value * (1 + 1e-9)) ?? 1) * power
}

/** Velocity arrows on an even raster of the screen, as long as the speed there; directions as the drawing is stretched. */
export function drawArrows(
  context: CanvasRenderingContext2D,
  ids: Int32Array,
  width: number,
  height: number,
  u: Float32Array,
  v: Float32Array,
  view: Viewport,
  ratio: number,
  look: ArrowLook = PLAIN_ARROWS,
  palette: string[] = [],
): void {
  const fastest = fastestOf(u, v)
  if (!fastest) return
  const outside = (x: number, y: number) => (ids[Math.floor(y) * width + Math.floor(x)] ?? -1) < 0
  const step = (STEP * ratio) / look.density
  const row = Math.max(4, ((14 * ratio) / look.density) | 0)
  const longest = LONGEST * look.length * ratio
  const shapes = palette.length && look.coloured ? palette.map(() => new Path2D()) : [new Path2D()]
  for (let y = row; y < height; y += row) {
    for (let x = step / 2; x < width; x += step) {
      const cell = ids[Math.floor(y) * width + Math.floor(x)]!
      if (cell < 0) continue
      const speed = Math.hypot(u[cell]!, v[cell]!)
      if (!(speed > SLOWEST * fastest)) continue
      const dx = u[cell]! * view.sx
      const dy = -v[cell]! * view.sy
      const size = Math.hypot(dx, dy)
      const length = look.even ? 0.7 * longest : (longest * speed) / fastest
      const [ex, ey] = [(dx / size) * length, (dy / size) * length]
      const [x0, y0] = [x - ex / 2, y - ey / 2]
      const [x1, y1] = [x0 + ex, y0 + ey]
      if (outside(x0, y0) || outside(x1, y1)) continue
      const head = Math.min(4 * ratio, length / 2)
      const [hx, hy] = [(dx / size) * head, (dy / size) * head]
      const path = shapes[Math.min(shapes.length - 1, Math.floor((speed / fastest) * shapes.length))]!
      path.moveTo(x0, y0)
      path.lineTo(x1, y1)
      path.moveTo(x1 - hx - hy * 0.6, y1 - hy + hx * 0.6)
      path.lineTo(x1, y1)
      path.lineTo(x1 - hx + hy * 0.6, y1 - hy - hx * 0.6)
    }
  }
  context.lineWidth = 1.1 * ratio
  context.save()
  context.translate(0.8 * ratio, 0.8 * ratio)
  context.strokeStyle = 'rgba(0,0,0,0.55)'
  for (const path of shapes) context.stroke(path)
  context.restore()
  shapes.forEach((path, i) => {
    context.strokeStyle = shapes.length > 1 ? palette[i]! : 'rgba(255,255,255,0.95)'
    context.stroke(path)
  })
}
