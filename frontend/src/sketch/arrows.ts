import type { Viewport } from './viewport'

const STEP = 34
/** Length of the fastest arrow, in pixels. */
export const LONGEST = 26
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
): void {
  const fastest = fastestOf(u, v)
  if (!fastest) return
  const outside = (x: number, y: number) => (ids[Math.floor(y) * width + Math.floor(x)] ?? -1) < 0
  const step = STEP * ratio
  const row = (14 * ratio) | 0
  context.lineWidth = 1.1 * ratio
  for (const [style, offset] of [
    ['rgba(0,0,0,0.55)', 0.8 * ratio],
    ['rgba(255,255,255,0.95)', 0],
  ] as const) {
    context.strokeStyle = style
    context.beginPath()
    for (let y = row; y < height; y += row) {
      for (let x = step / 2; x < width; x += step) {
        const cell = ids[Math.floor(y) * width + Math.floor(x)]!
        if (cell < 0) continue
        const speed = Math.hypot(u[cell]!, v[cell]!)
        if (!(speed > SLOWEST * fastest)) continue
        const dx = u[cell]! * view.sx
        const dy = -v[cell]! * view.sy
        const size = Math.hypot(dx, dy)
        const length = (LONGEST * ratio * speed) / fastest
        const [ex, ey] = [(dx / size) * length, (dy / size) * length]
        const [x0, y0] = [x - ex / 2 + offset, y - ey / 2 + offset]
        const [x1, y1] = [x0 + ex, y0 + ey]
        if (outside(x0, y0) || outside(x1, y1)) continue
        const head = Math.min(4 * ratio, length / 2)
        const [hx, hy] = [(dx / size) * head, (dy / size) * head]
        context.moveTo(x0, y0)
        context.lineTo(x1, y1)
        context.moveTo(x1 - hx - hy * 0.6, y1 - hy + hx * 0.6)
        context.lineTo(x1, y1)
        context.lineTo(x1 - hx + hy * 0.6, y1 - hy - hx * 0.6)
      }
    }
    context.stroke()
  }
}
