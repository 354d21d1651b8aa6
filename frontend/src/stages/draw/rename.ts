import type { CaseDocument } from '../../api/client'

/** Fields of a hand calculation that call parts, surfaces or quantities by name; all others hold expressions. */
const CALLING = ['hot', 'cold', 'wall', 'fluid', 'body', 'fin', 'base', 'part', 'surface', 'quantity']
const EXPRESSIONS: Record<string, string[]> = { layers: ['hot', 'cold'], heated_duct: ['wall'] }

/** Everything that calls a part by its name follows it to its new one: conditions, contacts, grid, ledger, hand calculation. */
export function renamePart(document: CaseDocument, index: number, name: string): void {
  const part = document.section.parts[index]
  const before = part?.name
  if (!part || !before || before === name) return
  part.name = name
  // A name stands whole, or as that of a copy: `tube`, `tube 3`, `tube, outside`, `water | tube 3`.
  const word = new RegExp(`(^|\\b(?:of|on|in|through|turn|slide|from|to|by) |\\| )${escaped(before)}(?=$|,| \\|| to |(?: \\d+)(?=$|,| \\|| to ))`, 'g')
  const follow = (text: string) => text.replace(word, (_, ahead: string) => ahead + name)
  const stream = new RegExp(`^(time to \\d+ % of )?${escaped(before)}(?= ((last )?outlet temperature|(total )?heat (gained|given off)|(total )?pressure (drop|rise)|Reynolds number|((log-mean|mean local) )?(Nusselt number|h)|friction factor|ratio per module|rise per module)$)`)
  const quantity = (text: string) => follow(text).replace(stream, (_, ahead: string | undefined) => (ahead ?? '') + name)
  for (const condition of document.conditions) {
    condition.boundaries = condition.boundaries.map(follow)
    if (condition.type === 'periodic') condition.downstream = condition.downstream.map(follow)
  }
  const beginnings = document.time?.part_temperatures ?? {}
  if (before in beginnings) document.time!.part_temperatures = Object.fromEntries(Object.entries(beginnings).map(([part, at]) => [part === before ? name : part, at]))
  for (const contact of document.contacts) contact.between = contact.between.map(follow)
  for (const local of document.grid.local) local.at = local.at.map(follow)
  document.watches = document.watches.map(quantity)
  for (const wish of document.wanted) wish.quantity = quantity(wish.quantity)
  document.sizing.quantity = quantity(document.sizing.quantity)
  const relation = document.estimate?.relation ?? ''
  const calls = (key: string) => /^\d+$/.test(key) || (CALLING.includes(key) && !(EXPRESSIONS[relation] ?? []).includes(key))
  const called = (key: string, value: unknown) => (typeof value === 'string' && calls(key) ? quantity(value) : value)
  if (document.estimate) document.estimate = JSON.parse(JSON.stringify(document.estimate), called) as CaseDocument['estimate']
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
