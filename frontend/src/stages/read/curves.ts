import type { LineAt, Profile, Statistics } from '../../stores/lines'

/** One curve of the plot along lines. */
export interface Curve {
  name: string
  line: string
  kind: string
  x: number[]
  y: number[]
  statistics: Statistics
  massFlow: number | null
}

export type Across = 'along' | 'x' | 'y' | 'angle' | 'share'
export type Scaled = 'plain' | 'temperature' | 'velocity'

/** Degrees around the middle of a closed line, from the direction against that of x, clockwise over the top to the rear. */
function angles(profile: Profile): number[] {
  const [cx, cy] = [mean(profile.x), mean(profile.y)]
  return Array.from(profile.x, (x, k) => Math.abs((180 / Math.PI) * Math.atan2(profile.y[k]! - cy, -(x - cx))))
}

function mean(values: Float32Array): number {
  let low = Infinity
  let high = -Infinity
  for (const v of values) {
    if (v < low) low = v
    if (v > high) high = v
  }
  return (low + high) / 2
}

/** Whether a line comes back to where it begins. */
export function isClosed(profile: Profile): boolean {
  const n = profile.x.length
  if (n < 6) return false
  const gap = Math.hypot(profile.x[0]! - profile.x[n - 1]!, profile.y[0]! - profile.y[n - 1]!)
  return gap < (2.5 * profile.length) / n
}

/**
 * Values without dimension: (T - Tw)/(Tb - Tw) for temperatures, where Tw is at the wall at its ends and Tb weighted by the flow (the
 * mean where nothing flows), and u over its mean for all else.
 */
function scale(values: Float32Array, told: Statistics, scaled: Scaled): number[] {
  if (scaled === 'plain') return Array.from(values)
  if (scaled === 'velocity') return Array.from(values, (v) => v / told.mean)
  const bulk = told.flow_mean ?? told.mean
  return Array.from(values, (v) => (v - told.at_wall) / (bulk - told.at_wall))
}

/** The curves of a line at an instant; none where it has no such field. */
export function curvesOf(at: LineAt, line: string, field: string, across: Across, scaled: Scaled, of = ''): Curve[] {
  const several = at.profiles.length > 1
  return at.profiles.flatMap((profile, i) => {
    const found = profile.fields.get(field)
    if (!found) return []
    const places = {
      along: () => Array.from(profile.along),
      x: () => Array.from(profile.x),
      y: () => Array.from(profile.y),
      angle: () => angles(profile),
      share: () => Array.from(profile.along, (s) => s / profile.length),
    }[across]()
    const wise: Scaled = scaled === 'plain' ? 'plain' : found.kind === 'temperature' ? 'temperature' : 'velocity'
    const own = several ? (profile.name !== line ? profile.name : `${line} ${i + 1}`) : line
    return [
      {
        name: [own, of].filter(Boolean).join(', '),
        line,
        kind: found.kind,
        x: places,
        y: scale(found.values, found.statistics, wise),
        statistics: found.statistics,
        massFlow: profile.massFlow,
      },
    ]
  })
}

/** Of a row of stations: the flow-weighted mean of a field against where each station is. */
export function bulkAlong(at: LineAt, line: string, field: string, of = ''): Curve[] {
  const stations = at.profiles.filter((p) => p.fields.has(field))
  if (stations.length < 2) return []
  const first = stations[0]!
  const byX = Math.abs(stations.at(-1)!.x[0]! - first.x[0]!) > Math.abs(stations.at(-1)!.y[0]! - first.y[0]!)
  const told = first.fields.get(field)!
  return [
    {
      name: [`${line}, bulk`, of].filter(Boolean).join(', '),
      line,
      kind: told.kind,
      x: stations.map((p) => (byX ? p.x[0]! : p.y[0]!)),
      y: stations.map((p) => p.fields.get(field)!.statistics.flow_mean ?? p.fields.get(field)!.statistics.mean),
      statistics: told.statistics,
      massFlow: first.massFlow,
    },
  ]
}
