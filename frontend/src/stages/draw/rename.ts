import type { CaseDocument } from '../../api/client'
import type { Key } from '../../quantity/keys'

/** Fields of a hand calculation that call parts or surfaces by name; all others hold expressions. */
const CALLING = ['hot', 'cold', 'wall', 'fluid', 'body', 'fin', 'base', 'part', 'surface']
const EXPRESSIONS: Record<string, string[]> = { layers: ['hot', 'cold'], heated_duct: ['wall'] }

/** Everything that calls a part by its name follows it to its new one: conditions, contacts, grid, ledger, hand calculation. */
export function renamePart(document: CaseDocument, index: number, name: string): void {
  const part = document.section.parts[index]
  const before = part?.name
  if (!part || !before || before === name) return
  part.name = name
  // Names of boundaries begin with their part, or with a copy of it: `tube`, `tube, outside`, `tube 3, outside`; interfaces hold two.
  const word = new RegExp(`^${escaped(before)}(?=$|, | \\d+(?:$|, ))`)
  const follow = (place: string) =>
    place
      .split(' | ')
      .map((one) => one.replace(word, () => name))
      .join(' | ')
  const keyed = (key: Key): Key => ({
    ...key,
    place: follow(key.place),
    other: follow(key.other),
    of: key.of ? keyed(key.of) : key.of,
  })
  for (const condition of document.conditions) {
    condition.boundaries = condition.boundaries.map(follow)
    if (condition.type === 'periodic') condition.downstream = condition.downstream.map(follow)
  }
  const beginnings = document.time?.part_temperatures ?? {}
  if (before in beginnings)
    document.time!.part_temperatures = Object.fromEntries(
      Object.entries(beginnings).map(([part, at]) => [part === before ? name : part, at]),
    )
  for (const contact of document.contacts) contact.between = contact.between.map(follow)
  for (const { radiation } of document.section.parts) for (const row of radiation?.surfaces ?? []) row.surface = follow(row.surface)
  for (const local of document.grid.local) local.at = local.at.map(follow)
  document.watches = document.watches.map(keyed)
  for (const wish of document.wanted) wish.key = keyed(wish.key)
  const { sizing, series } = document
  for (const goal of sizing?.goals ?? []) goal.key = keyed(goal.key)
  for (const aim of [sizing?.aim, sizing?.second]) if (aim?.key) aim.key = keyed(aim.key)
  for (const varied of [...(series?.varied ?? []), ...(sizing?.chosen ?? []).flatMap((one) => one.varied)])
    if (varied.material_of) varied.material_of = follow(varied.material_of)
  document.estimates = document.estimates.map((estimate) => {
    const calls = (field: string) =>
      /^\d+$/.test(field) || (CALLING.includes(field) && !(EXPRESSIONS[estimate.relation] ?? []).includes(field))
    const called = (field: string, value: unknown) => (typeof value === 'string' && calls(field) ? follow(value) : value)
    const renamed = JSON.parse(JSON.stringify(estimate), called) as typeof estimate
    if ('key' in renamed && renamed.key) renamed.key = keyed(renamed.key)
    return renamed
  })
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
