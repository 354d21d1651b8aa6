/** How the section lies on the screen: a scale for each axis, so that thin things can be stretched across. */
export interface Viewport {
  /** Pixels per metre along x and y, and where the model's origin stands. */
  sx: number
  sy: number
  ox: number
  oy: number
}

export interface Box {
  x0: number
  y0: number
  x1: number
  y1: number
}

/** Beyond this ratio of the two scales a section to scale would be a hairline. */
const STRETCH_FROM = 6

/** The largest view of a section that leaves room for labels; stretched across when it is very slender. */
export function fit(bounds: Box, width: number, height: number, margin: Box, toScale: boolean): Viewport {
  const w = Math.max(width - margin.x0 - margin.x1, 40)
  const h = Math.max(height - margin.y0 - margin.y1, 30)
  let sx = w / Math.max(bounds.x1 - bounds.x0, 1e-12)
  let sy = h / Math.max(bounds.y1 - bounds.y0, 1e-12)
  if (toScale || Math.max(sx / sy, sy / sx) < STRETCH_FROM) sx = sy = Math.min(sx, sy)
  else if (sy > sx) sy = nice(sy / sx) * sx
  else sx = nice(sx / sy) * sy
  return {
    sx,
    sy,
    ox: margin.x0 + (w - sx * (bounds.x1 - bounds.x0)) / 2 - sx * bounds.x0,
    oy: margin.y0 + (h - sy * (bounds.y1 - bounds.y0)) / 2 + sy * bounds.y1,
  }
}

/** The next round number below, so that a stretch reads "60 times", not "63.7 times". */
function nice(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value))
  return ([8, 6, 5, 4, 3, 2.5, 2, 1.5, 1].find((step) => step * power <= value) ?? 1) * power
}

export const toX = (view: Viewport, x: number) => view.ox + view.sx * x
export const toY = (view: Viewport, y: number) => view.oy - view.sy * y
export const fromX = (view: Viewport, px: number) => (px - view.ox) / view.sx
export const fromY = (view: Viewport, py: number) => (view.oy - py) / view.sy

/** Zoom by a factor about a point on the screen. */
export function zoom(view: Viewport, factor: number, px: number, py: number): Viewport {
  return { sx: view.sx * factor, sy: view.sy * factor, ox: px + (view.ox - px) * factor, oy: py + (view.oy - py) * factor }
}

/** The path of closed rings, in pixels. */
export function ringsPath(view: Viewport, rings: number[][][]): string {
  return rings.map((ring) => `M${ring.map(([x, y]) => `${toX(view, x!)},${toY(view, y!)}`).join('L')}Z`).join('')
}
