import type { CaseDocument } from '../../api/client'

/** What a run depends on; titles, wishes and notes may change without making it stale. */
const SOLVED_PARTS = ['inputs', 'section', 'materials', 'physics', 'time', 'conditions', 'contacts', 'grid'] as const

/** Whether two values of a document are the same, in whatever order their fields stand. */
function alike(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b
  const [p, q] = [a as Record<string, unknown>, b as Record<string, unknown>]
  return [...new Set([...Object.keys(p), ...Object.keys(q)])].every((key) => alike(p[key], q[key]))
}

/** The names of what differs between the case of a run and the case as it stands: inputs by name, all else by its part. */
export function changedBetween(then: CaseDocument, now: CaseDocument): string[] {
  const changed: string[] = []
  for (const part of SOLVED_PARTS) {
    if (part === 'inputs') {
      const names = new Set([...Object.keys(then.inputs), ...Object.keys(now.inputs)])
      for (const name of names) if (then.inputs[name]?.value !== now.inputs[name]?.value) changed.push(name)
    } else if (part === 'time' && now.physics.regime !== 'time') {
      // How a case would run in time does not matter while it is steady.
    } else if (!alike(then[part], now[part])) changed.push(part === 'section' ? 'drawing' : part)
  }
  return changed
}
