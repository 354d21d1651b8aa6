import type { SeriesOut, SeriesPoint } from '../../stores/series'

/** Points that differ in one input alone, in its order; named by what the others are. */
export interface FamilyOfPoints {
  name: string
  points: SeriesPoint[]
}

/** More families than these cannot be told apart in one plot. */
export const MOST_FAMILIES = 14

/** The points of a series along one of its inputs, a family for each combination of the others. */
export function familiesAlong(series: SeriesOut, along: number): FamilyOfPoints[] {
  const found = new Map<string, FamilyOfPoints>()
  for (const point of series.points) {
    if (point.place[along] === null || point.place[along] === undefined) continue
    const name = series.varied
      .map((one, i) => (i === along ? '' : `${series.varied.length > 2 ? `${one.label} ` : ''}${point.values[i]}`))
      .filter(Boolean)
      .join(', ')
    if (!found.has(name)) found.set(name, { name, points: [] })
    found.get(name)!.points.push(point)
  }
  for (const family of found.values()) family.points.sort((a, b) => a.place[along]! - b.place[along]!)
  return [...found.values()]
}

/** A quantity over two inputs where all their combinations are there: positions along both, and values row by row from below. */
export interface Sheet {
  x: number[]
  y: number[]
  values: (number | null)[]
  points: SeriesPoint[]
}

/** The sheet of points over two inputs; of the other inputs, the values of `at` hold. None where combinations are missing. */
export function sheetOver(
  series: SeriesOut,
  across: number,
  up: number,
  at: SeriesPoint,
  value: (point: SeriesPoint) => number | null,
): Sheet | null {
  const points = series.points.filter((p) => p.values.every((text, i) => i === across || i === up || text === at.values[i]))
  const sorted = (k: number) =>
    [...new Set(points.flatMap((p) => (p.place[k] === null || p.place[k] === undefined ? [] : [p.place[k]])))].sort((a, b) => a - b)
  const [x, y] = [sorted(across), sorted(up)]
  if (x.length < 2 || y.length < 2) return null
  const values: (number | null)[] = new Array<number | null>(x.length * y.length).fill(null)
  let filled = 0
  for (const point of points) {
    const k = y.indexOf(point.place[up]!) * x.length + x.indexOf(point.place[across]!)
    if (k < 0) continue
    values[k] = value(point)
    filled++
  }
  return filled >= x.length * y.length ? { x, y, values, points } : null
}
