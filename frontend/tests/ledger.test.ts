import { describe, expect, it } from 'vitest'

import type { LedgerRow } from '../src/api/client'
import { deskLedger, reaches } from '../src/stores/case/ledger'

const row = (more: object): LedgerRow =>
  ({
    key: { quantity: 'duty', place: '', other: '' },
    opposite: null,
    by_hand: null,
    solved: null,
    target: null,
    sense: 'at_least',
    wanted: false,
    agrees: true,
    verdict: 'agrees',
    ...more,
  }) as unknown as LedgerRow

describe('the ledger on the desk', () => {
  const hand = { value: 90, low: 80, high: 100 }

  it('has the live hand value and target beside what was solved', () => {
    const [one] = deskLedger(
      [row({ by_hand: hand, target: 95, wanted: true })],
      [row({ solved: 100, by_hand: { ...hand, value: 50 } })],
      true,
    )
    expect(one).toMatchObject({ solved: 100, by_hand: hand, target: 95, meets: true, verdict: 'agrees' })
  })

  it('judges by hand and says nothing of agreement when what was solved is stale', () => {
    const [one] = deskLedger([row({ by_hand: hand, target: 95 })], [row({ solved: 100 })], false)
    expect(one).toMatchObject({ meets: false, agrees: null, verdict: '' })
  })

  it('has no hand value where there is none now', () => {
    expect(deskLedger([], [row({ solved: 100, by_hand: hand })], true)[0]!.by_hand).toBeNull()
  })

  it('meets a target from either side, a thousandth aside', () => {
    expect(reaches(row({ solved: 100, target: 100 }), true)).toBe(true)
    expect(reaches(row({ solved: 99.95, target: 100 }), true)).toBe(false)
    expect(reaches(row({ solved: 100.05, target: 100, sense: 'at_most' }), true)).toBe(false)
    expect(reaches(row({ solved: 99.95, target: 100, sense: 'equal', slack: 0.1 }), true)).toBe(true)
    expect(reaches(row({ solved: 99.8, target: 100, sense: 'equal', slack: 0.1 }), true)).toBe(false)
    expect(reaches(row({ target: 100 }), true)).toBeNull()
  })
})
