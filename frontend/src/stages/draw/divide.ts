import type { CaseDocument } from '../../api/client'

export const SIDES = ['left', 'bottom', 'right', 'top'] as const
export type Side = (typeof SIDES)[number]

/** What a side's pieces are called: by the side alone while it is whole. */
function pieces(part: string, side: Side, divisions: number): string[] {
  return divisions ? Array.from({ length: divisions + 1 }, (_, k) => `${part}, ${side} ${k + 1}`) : [`${part}, ${side}`]
}

/** Divide a side of a rectangle at places from its left or lower end; what stood on it stands on its pieces, and back. */
export function divideSide(document: CaseDocument, index: number, side: Side, places: string[]): void {
  const part = document.section.parts[index]
  if (!part || part.shape.type !== 'rectangle') return
  const before = pieces(part.name, side, part.shape.divided[side]?.length ?? 0)
  const now = pieces(part.name, side, places.length)
  const others = Object.entries(part.shape.divided).filter(([name]) => name !== side)
  part.shape.divided = Object.fromEntries(places.length ? [...others, [side, places]] : others)
  const taken = new Set<string>()
  const follow = (names: string[]) =>
    names.flatMap((name) => {
      const at = before.indexOf(name)
      if (at < 0) return [name]
      // The last piece stands for all that come after it.
      const after =
        before.length === 1 || at === before.length - 1 ? now.slice(before.length === 1 ? 0 : at) : now.slice(at, at + 1)
      return after.length ? after : now.slice(-1)
    })
  const once = (names: string[]) => [...new Set(names)].filter((name) => !taken.has(name))
  for (const condition of document.conditions) {
    condition.boundaries = once(follow(condition.boundaries))
    for (const name of condition.boundaries) if (now.includes(name)) taken.add(name)
  }
  document.conditions = document.conditions.filter((condition) => condition.boundaries.length)
  for (const local of document.grid.local) local.at = [...new Set(follow(local.at))]
}
