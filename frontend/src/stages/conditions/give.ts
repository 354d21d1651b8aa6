import type { CaseDocument, Condition } from '../../api/client'

/**
 * Give some boundaries a condition: they leave the ones they had, and a condition left without boundaries goes.
 * Where the boundaries are exactly those of an existing condition, it is replaced in its place.
 */
export function giveCondition(document: CaseDocument, boundaries: string[], condition: Condition): void {
  const chosen = new Set(boundaries)
  let placed = false
  const kept: Condition[] = []
  for (const old of document.conditions) {
    const rest = old.boundaries.filter((name) => !chosen.has(name))
    if (rest.length === old.boundaries.length) {
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
