import type { CaseDocument, Condition } from '../../api/client'

/**
 * Give some boundaries a condition: they leave the ones they had, and a condition left without boundaries goes.
 * Where the boundaries are exactly those of an existing condition, it is replaced in its place. Conditions that an
 * input has switched off keep what they have; `current` is the one that is being changed.
 */
export function giveCondition(document: CaseDocument, boundaries: string[], condition: Condition, current: number | null = null): void {
  const chosen = new Set(boundaries)
  let placed = false
  const kept: Condition[] = []
  for (const [index, old] of document.conditions.entries()) {
    const rest = old.boundaries.filter((name) => !chosen.has(name))
    const other = index !== current && (old.present ?? '1') !== '1' && (condition.present ?? '1') !== '1'
    if (rest.length === old.boundaries.length || other) {
      kept.push(old)
    } else if (rest.length > 0) {
      kept.push({ ...old, boundaries: rest })
    } else if (!placed) {
      kept.push({ ...condition, boundaries })
      placed = true
    }
  }
  if (!placed) kept.push({ ...condition, boundaries })
  document.conditions = kept
}

const KEPT = 'wattikos.condition'

/** Remember a condition, to give it to boundaries of this or another case. */
export function copyCondition(condition: Condition): void {
  localStorage.setItem(KEPT, JSON.stringify(condition))
}

/** The remembered condition. */
export function copiedCondition(): Condition | null {
  const kept = localStorage.getItem(KEPT)
  return kept ? (JSON.parse(kept) as Condition) : null
}
