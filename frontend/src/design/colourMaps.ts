/**
 * Colour maps of our own, made in the OKLab space so that equal steps of a value are equal steps to the eye:
 * lightness rises in a straight line while the hue turns.
 */

type Stop = [lightness: number, chroma: number, hue: number]

const ramps: Record<string, Stop[]> = {
  // From cold slate through plum to glowing straw: for temperatures.
  ember: [
    [0.28, 0.06, 262],
    [0.44, 0.11, 325],
    [0.6, 0.15, 20],
    [0.76, 0.15, 58],
    [0.93, 0.09, 95],
  ],
  // For speeds.
  brook: [
    [0.28, 0.05, 255],
    [0.5, 0.08, 205],
    [0.72, 0.1, 165],
    [0.95, 0.08, 120],
  ],
  // For pressures.
  slate: [
    [0.28, 0.05, 290],
    [0.5, 0.07, 265],
    [0.72, 0.06, 235],
    [0.95, 0.03, 210],
  ],
  // Two ways from a stated value: lightness falls alike on both sides, teal below, plum above.
  heather: [
    [0.36, 0.08, 200],
    [0.66, 0.09, 195],
    [0.96, 0.012, 110],
    [0.66, 0.13, 352],
    [0.36, 0.11, 342],
  ],
}

export const MAPS = Object.keys(ramps)
/** Maps that have a middle, on which a stated value lies. */
export const DIVERGING = ['heather']

export const mapOfKind: Record<string, string> = {
  temperature: 'ember',
  heat_flux: 'ember',
  velocity: 'brook',
  mass_flow: 'brook',
  rate: 'brook',
  ratio: 'brook',
  pressure: 'slate',
  density: 'slate',
  viscosity: 'slate',
  length: 'slate',
}

function srgb(l: number, c: number, h: number): [number, number, number] {
  const a = c * Math.cos((h * Math.PI) / 180)
  const b = c * Math.sin((h * Math.PI) / 180)
  const l3 = (l + 0.3963377774 * a + 0.2158037573 * b) ** 3
  const m3 = (l - 0.1055613458 * a - 0.0638541728 * b) ** 3
  const s3 = (l - 0.0894841775 * a - 1.291485548 * b) ** 3
  const linear = [
    4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3,
    -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3,
    -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3,
  ]
  const byte = (x: number) => {
    const y = Math.min(Math.max(x, 0), 1)
    return Math.round(255 * (y <= 0.0031308 ? 12.92 * y : 1.055 * y ** (1 / 2.4) - 0.055))
  }
  return [byte(linear[0]!), byte(linear[1]!), byte(linear[2]!)]
}

const tables = new Map<string, Uint32Array>()

/** 256 colours of a map as little-endian RGBA words, ready for an ImageData. */
export function colourTable(name: string): Uint32Array {
  const known = tables.get(name)
  if (known) return known
  const stops = ramps[name] ?? ramps.ember!
  const table = new Uint32Array(256)
  for (let i = 0; i < 256; i++) {
    const at = (i / 255) * (stops.length - 1)
    const k = Math.min(Math.floor(at), stops.length - 2)
    const [p, q, f] = [stops[k]!, stops[k + 1]!, at - k]
    let turn = q[2] - p[2]
    if (turn > 180) turn -= 360
    if (turn < -180) turn += 360
    const [r, g, b] = srgb(p[0] + f * (q[0] - p[0]), p[1] + f * (q[1] - p[1]), p[2] + f * turn)
    table[i] = (255 << 24) | (b << 16) | (g << 8) | r
  }
  tables.set(name, table)
  return table
}

const greys = new Map<string, Uint32Array>()

/** The same lightness without colour, for what is outside the band of interest. */
export function greyTable(name: string): Uint32Array {
  const known = greys.get(name)
  if (known) return known
  const table = colourTable(name).map((word) => {
    const light = 0.2126 * (word & 255) + 0.7152 * ((word >> 8) & 255) + 0.0722 * ((word >> 16) & 255)
    // Nearer to each other than the colours, so that the band stands out.
    const grey = Math.round(110 + 0.42 * light)
    return ((255 << 24) | (grey << 16) | (grey << 8) | grey) >>> 0
  })
  greys.set(name, table)
  return table
}

/** A colour of a map, 0 to 1, as CSS has it. */
export function colourAt(name: string, share: number): string {
  const word = colourTable(name)[Math.round(255 * Math.min(Math.max(share, 0), 1))]!
  return `rgb(${word & 255} ${(word >> 8) & 255} ${(word >> 16) & 255})`
}

/** A CSS gradient of a map, for scales. */
export function colourGradient(name: string, bands = 0): string {
  const table = colourTable(name)
  if (bands) {
    const stops = Array.from({ length: bands }, (_, i) => {
      const colour = colourAt(name, bands > 1 ? i / (bands - 1) : 0.5)
      return `${colour} ${(100 * i) / bands}% ${(100 * (i + 1)) / bands}%`
    })
    return `linear-gradient(to right, ${stops.join(', ')})`
  }
  const stops = Array.from({ length: 17 }, (_, i) => {
    const word = table[i * 15 + (i === 16 ? 15 : 0)]!
    return `rgb(${word & 255} ${(word >> 8) & 255} ${(word >> 16) & 255})`
  })
  return `linear-gradient(to right, ${stops.join(', ')})`
}
