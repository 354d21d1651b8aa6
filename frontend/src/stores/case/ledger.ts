import type { LedgerRow } from '../../api/client'
import { facing } from '../../quantity/keys'

/** The ledger on the desk: the live hand column beside what was solved last, `fresh` where that is of the case as it stands. */
export function deskLedger(byHand: LedgerRow[], lastSolved: LedgerRow[], fresh: boolean): LedgerRow[] {
  const [live, solved] = facing(byHand, lastSolved)
  return [...new Set([...live.keys(), ...solved.keys()])].map((id) => {
    const a = live.get(id)
    const b = solved.get(id)
    // What the hand cannot calculate just now is blank, not the number of an earlier run.
    const row = {
      ...(b ?? a)!,
      ...(a
        ? { by_hand: a.by_hand, wanted: a.wanted, target: a.target, sense: a.sense, slack: a.slack, upper: a.upper }
        : { by_hand: null }),
    }
    if (!fresh) Object.assign(row, { agrees: null, verdict: '' })
    row.meets = reaches(row, fresh)
    row.margin = marginOf(row, fresh)
    return row
  })
}

const ROUND_OFF = 1e-9

const bestOf = (row: LedgerRow, fresh: boolean) => (fresh && row.solved !== null ? row.solved : (row.by_hand?.value ?? null))

/** How far the best value lies within its limits, negative outside; as in the core. */
export function marginOf(row: LedgerRow, fresh: boolean): number | null {
  const value = bestOf(row, fresh)
  if (row.target === null || value === null || row.sense === 'equal') return null
  if (row.sense === 'between' && typeof row.upper === 'number') return Math.min(value - row.target, row.upper - value)
  return row.sense === 'at_most' ? row.target - value : value - row.target
}

/** Whether the best value that belongs to the case as it stands reaches its target; as in the core. */
export function reaches(row: LedgerRow, fresh: boolean): boolean | null {
  const value = bestOf(row, fresh)
  if (row.target === null || value === null) return null
  if (row.sense === 'equal') return Math.abs(value - row.target) <= (row.slack ?? 0)
  return marginOf(row, fresh)! >= -ROUND_OFF * Math.abs(row.target)
}
