import type { LedgerRow, Schemas } from '../api/client'

/** What a value of the ledger is of: a quantity and its places. How it is written is the server's to say. */
export type Key = Schemas['Key']

/** A key as text, for maps and lists. */
export const idOf = (key: Key | null | undefined): string =>
  key ? JSON.stringify([key.quantity, key.place, key.other, idOf(key.of)]) : ''

/** Whether a row is of a key, in either sense. */
export const isOf = (row: LedgerRow, key: Key | null | undefined): boolean =>
  Boolean(key) && [idOf(row.key), idOf(row.opposite)].includes(idOf(key))

/** A row told in the other sense: its values are the negative of what they were. */
export function turned(row: LedgerRow): LedgerRow {
  if (!row.opposite) return row
  const negative = (value: number | null) => (value === null ? null : -value)
  const hand = row.by_hand
  return {
    ...row,
    key: row.opposite,
    opposite: row.key,
    name: row.opposite_name,
    opposite_name: row.name,
    value: negative(row.value),
    solved: negative(row.solved),
    by_hand: hand && { ...hand, value: -hand.value, low: -hand.high, high: -hand.low },
  }
}

/** Rows by hand and solved rows by one key each: solved ones follow what is calculated or asked for, others follow them. */
export function facing(live: LedgerRow[], solved: LedgerRow[]): [Map<string, LedgerRow>, Map<string, LedgerRow>] {
  const of = new Map(solved.map((row) => [idOf(row.key), row]))
  const mine = new Map<string, LedgerRow>()
  for (const row of live) {
    const there = row.opposite && !of.has(idOf(row.key)) ? of.get(idOf(row.opposite)) : undefined
    const leads = row.by_hand !== null || row.target !== null
    if (there && leads) {
      of.delete(idOf(there.key))
      of.set(idOf(row.key), turned(there))
    }
    const shown = there && !leads ? turned(row) : row
    mine.set(idOf(shown.key), shown)
  }
  return [mine, of]
}
