import type { LedgerRow } from '../api/client'

/** Heat that passes a surface, as its name tells: the surface (an interface by either order of its parts) and where heat goes. */
export function heatPassing(name: string): { places: string[]; to: string } | null {
  const edge = /^heat (out|in) through (.+)$/.exec(name)
  if (edge) return { places: [edge[2]!], to: edge[1]! }
  const between = /^heat from (.+) to (.+)$/.exec(name)
  return between ? { places: [`${between[1]} | ${between[2]}`, `${between[2]} | ${between[1]}`], to: `→ ${between[2]}` } : null
}

/** Both names of a row's quantity. */
export const bothNames = (row: LedgerRow): string[] => [row.name, row.opposite ?? ''].filter(Boolean)

/** A row told in the other sense: its values are the negative of what they were. */
export function turned(row: LedgerRow): LedgerRow {
  const negative = (value: number | null) => (value === null ? null : -value)
  const hand = row.by_hand
  return {
    ...row,
    name: row.opposite ?? row.name,
    opposite: row.name,
    value: negative(row.value),
    solved: negative(row.solved),
    by_hand: hand && { ...hand, value: -hand.value, low: -hand.high, high: -hand.low },
  }
}

/** Rows by hand and solved rows by one name each: solved ones follow what is calculated or asked for, others follow them. */
export function facing(live: LedgerRow[], solved: LedgerRow[]): [Map<string, LedgerRow>, Map<string, LedgerRow>] {
  const of = new Map(solved.map((row) => [row.name, row]))
  const mine = new Map<string, LedgerRow>()
  for (const row of live) {
    const there = row.opposite && !of.has(row.name) ? of.get(row.opposite) : undefined
    const leads = row.by_hand !== null || row.target !== null
    if (there && leads) {
      of.delete(there.name)
      of.set(row.name, turned(there))
    }
    const shown = there && !leads ? turned(row) : row
    mine.set(shown.name, shown)
  }
  return [mine, of]
}
