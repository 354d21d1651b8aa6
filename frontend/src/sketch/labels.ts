/** Where labels stand on the drawing: beside what they name, on no outline and on no other label, with a lead line when they step aside. */

/** A box by its middle, in pixels. */
export interface Spot {
  x: number
  y: number
  width: number
  height: number
}

export interface Lead {
  /** Where the label would have stood, and the edge of the box where it stands. */
  from: [x: number, y: number]
  to: [x: number, y: number]
}

export interface Placed {
  spot: Spot
  lead: Lead | null
}

const CELL = 4
/** Labels keep this far from each other and from outlines. */
const CLEAR = 2
const RADII = [18, 30, 44, 60, 80, 104, 132, 164, 200, 250]
const WAYS = 16
/** A label nearer than this to what it names needs no lead line. */
const NEAR = 13

/** What is free on a drawing of a size, with outlines as polylines on the screen. */
export class FreeSpace {
  private readonly columns: number
  private readonly rows: number
  private readonly covered: Uint8Array
  /** Sums of covered cells above and to the left: a box is looked at in four steps. */
  private readonly sums: Uint32Array
  private readonly taken: Spot[] = []
  private readonly leads: Lead[] = []

  constructor(
    private readonly width: number,
    private readonly height: number,
    lines: [x: number, y: number][][],
    before?: FreeSpace,
  ) {
    this.columns = Math.max(Math.ceil(width / CELL), 1)
    this.rows = Math.max(Math.ceil(height / CELL), 1)
    this.covered = before ? before.covered.slice() : new Uint8Array(this.columns * this.rows)
    for (const line of lines) for (let i = 1; i < line.length; i++) this.cover(line[i - 1]!, line[i]!)
    const across = this.columns + 1
    this.sums = new Uint32Array(across * (this.rows + 1))
    for (let j = 0; j < this.rows; j++) {
      for (let i = 0; i < this.columns; i++) {
        this.sums[(j + 1) * across + i + 1] =
          this.covered[j * this.columns + i]! +
          this.sums[j * across + i + 1]! +
          this.sums[(j + 1) * across + i]! -
          this.sums[j * across + i]!
      }
    }
  }

  private cover(a: [number, number], b: [number, number]): void {
    const [low, high] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])]
    if (high < 0 || low > this.width || Math.max(a[1], b[1]) < 0 || Math.min(a[1], b[1]) > this.height) return
    const steps = Math.min(Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / (0.5 * CELL)) + 1, 8000)
    for (let k = 0; k <= steps; k++) {
      const i = Math.floor((a[0] + ((b[0] - a[0]) * k) / steps) / CELL)
      const j = Math.floor((a[1] + ((b[1] - a[1]) * k) / steps) / CELL)
      if (i >= 0 && i < this.columns && j >= 0 && j < this.rows) this.covered[j * this.columns + i] = 1
    }
  }

  /** The same with further lines in the way. */
  with(lines: [x: number, y: number][][]): FreeSpace {
    const more = new FreeSpace(this.width, this.height, lines, this)
    for (const spot of this.taken) more.take(spot)
    more.leads.push(...this.leads)
    return more
  }

  /** Whether a box lies on the drawing, on no outline and on no label. */
  isFree(spot: Spot): boolean {
    const [x0, x1] = [spot.x - spot.width / 2, spot.x + spot.width / 2]
    const [y0, y1] = [spot.y - spot.height / 2, spot.y + spot.height / 2]
    if (x0 < 0 || y0 < 0 || x1 > this.width || y1 > this.height) return false
    if (this.taken.some((t) => overlap(t, spot)) || this.leads.some((lead) => through(lead, spot))) return false
    const [i0, i1] = [Math.floor(x0 / CELL), Math.min(Math.ceil(x1 / CELL), this.columns)]
    const [j0, j1] = [Math.floor(y0 / CELL), Math.min(Math.ceil(y1 / CELL), this.rows)]
    const at = (i: number, j: number) => this.sums[j * (this.columns + 1) + i]!
    return at(i1, j1) - at(i0, j1) - at(i1, j0) + at(i0, j0) === 0
  }

  take(spot: Spot): void {
    this.taken.push(spot)
  }

  /**
   * The first free spot for a box: where it would best stand, then further and further around what it names, outwards first; where it
   * would best stand when there is none.
   */
  place(
    best: Spot,
    anchor: [x: number, y: number],
    out: [x: number, y: number] = [0, -1],
    allowed: (spot: Spot) => boolean = () => true,
  ): Placed {
    const offers = this.candidates(best, anchor, out).filter((one) => this.isFree(one) && allowed(one))
    const spot = offers.find((one) => !this.crosses(leadTo(one, anchor))) ?? offers[0] ?? best
    const lead = leadTo(spot, anchor)
    this.take(spot)
    if (lead) this.leads.push(lead)
    return { spot, lead }
  }

  private crosses(lead: Lead | null): boolean {
    return lead !== null && this.taken.some((spot) => !covers(spot, lead.from) && through(lead, spot))
  }

  private candidates(best: Spot, anchor: [number, number], out: [number, number]): Spot[] {
    const found = [best]
    const first = Math.atan2(out[1], out[0])
    for (const radius of RADII) {
      for (let k = 0; k < WAYS; k++) {
        // 0, 1, -1, 2, -2 … steps away from outwards.
        const angle = first + (Math.ceil(k / 2) * (k % 2 ? 1 : -1) * 2 * Math.PI) / WAYS
        const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
        found.push({ ...best, x: anchor[0] + cos * (radius + best.width / 2), y: anchor[1] + sin * (radius + best.height / 2) })
      }
    }
    return found
  }
}

const overlap = (a: Spot, b: Spot) =>
  Math.abs(a.x - b.x) < (a.width + b.width) / 2 + CLEAR && Math.abs(a.y - b.y) < (a.height + b.height) / 2 + CLEAR

const covers = (spot: Spot, [x, y]: [number, number]) =>
  Math.abs(x - spot.x) < spot.width / 2 && Math.abs(y - spot.y) < spot.height / 2

/** Whether a line passes a box. */
function through({ from, to }: Lead, spot: Spot): boolean {
  const steps = Math.max(Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / CELL), 1)
  for (let k = 0; k <= steps; k++) {
    const [x, y] = [from[0] + ((to[0] - from[0]) * k) / steps, from[1] + ((to[1] - from[1]) * k) / steps]
    if (covers(spot, [x, y])) return true
  }
  return false
}

/** The line from what a label names to the nearest edge of its box; none where it stands right beside it. */
function leadTo(spot: Spot, anchor: [number, number]): Lead | null {
  const x = Math.min(Math.max(anchor[0], spot.x - spot.width / 2), spot.x + spot.width / 2)
  const y = Math.min(Math.max(anchor[1], spot.y - spot.height / 2), spot.y + spot.height / 2)
  return Math.hypot(x - anchor[0], y - anchor[1]) > NEAR ? { from: anchor, to: [x, y] } : null
}

let pen: CanvasRenderingContext2D | null | undefined

/** Width of a text in pixels, as it is drawn; about so wide where there is no canvas. */
export function widthOf(text: string, font: string): number {
  if (pen === undefined) pen = typeof document === 'undefined' ? null : (document.createElement('canvas').getContext('2d') ?? null)
  if (!pen) return text.length * 7
  pen.font = font
  return pen.measureText(text).width
}
