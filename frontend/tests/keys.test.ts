import { describe, expect, it } from 'vitest'

import type { LedgerRow } from '../src/api/client'
import { facing, idOf, isOf, turned, type Key } from '../src/quantity/keys'

const key = (quantity: Key['quantity'], place = '', other = ''): Key => ({ quantity, place, other, of: null })
const row = (one: Key, opposite: Key | null, more: Partial<LedgerRow> = {}): LedgerRow =>
  ({
    key: one,
    opposite,
    name: idOf(one),
    opposite_name: opposite ? idOf(opposite) : '',
    value: null,
    solved: null,
    by_hand: null,
    target: null,
    ...more,
  }) as LedgerRow

const out = key('heat_between', 'plate', 'air')
const back = key('heat_between', 'air', 'plate')

describe('keys of the ledger', () => {
  it('are the same with and without what is empty', () => {
    expect(idOf({ quantity: 'duty', place: '', other: '' })).toBe(idOf(key('duty')))
    expect(idOf({ ...key('time_to_95'), of: key('duty') })).not.toBe(idOf(key('time_to_95')))
    expect(idOf(null)).toBe('')
  })

  it('find their row in either sense', () => {
    expect(isOf(row(out, back), back)).toBe(true)
    expect(isOf(row(key('duty'), null), out)).toBe(false)
    expect(isOf(row(key('duty'), null), null)).toBe(false)
  })

  it('turn with the sign of all values', () => {
    const hand = { value: 3, low: 2, high: 5 } as LedgerRow['by_hand']
    const other = turned(row(out, back, { solved: 4, by_hand: hand }))
    expect(other).toMatchObject({ key: back, opposite: out, solved: -4, by_hand: { value: -3, low: -5, high: -2 } })
    expect(turned(row(key('duty'), null, { solved: 4 })).solved).toBe(4)
  })

  it('bring what was solved into the sense that is asked for', () => {
    const [live, solved] = facing([row(out, back, { target: 10 })], [row(back, out, { solved: 4 })])
    expect([...live.keys()]).toEqual([idOf(out)])
    expect(solved.get(idOf(out))!.solved).toBe(-4)
  })

  it('show what nobody asks for as it came out', () => {
    const [live, solved] = facing([row(out, back)], [row(back, out, { solved: 4 })])
    expect([...live.keys()]).toEqual([idOf(back)])
    expect(solved.get(idOf(back))!.solved).toBe(4)
  })
})
