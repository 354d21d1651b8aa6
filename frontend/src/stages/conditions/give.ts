import type { CaseDocument, Condition, Schemas, Sketch } from '../../api/client'

/**
 * Give some boundaries a condition: they leave the ones they had, and a condition left without boundaries goes.
 * Where the boundaries are exactly those of an existing condition, it is replaced in its place. Conditions that an
 * input has switched off keep what they have; `current` is the one that is being changed.
 */
export function giveCondition(
  document: CaseDocument,
  boundaries: string[],
  condition: Condition,
  current: number | null = null,
): void {
  const chosen = new Set(boundaries)
  let placed = false
  const kept: Condition[] = []
  for (const [index, old] of document.conditions.entries()) {
    const rest = old.boundaries.filter((name) => !chosen.has(name))
    // A module that loses a boundary of one of its ends is none any more.
    if (old.type === 'periodic' && [...old.boundaries, ...old.downstream].some((name) => chosen.has(name))) {
      if (condition.type === 'periodic' && !placed) kept.push(condition)
      placed ||= condition.type === 'periodic'
      continue
    }
    const other = index !== current && (old.present ?? '1') !== '1' && (condition.present ?? '1') !== '1'
    if (rest.length === old.boundaries.length || other) {
      kept.push(old)
    } else if (rest.length > 0) {
      kept.push({ ...old, boundaries: rest })
    } else if (!placed) {
      kept.push(on(condition, boundaries))
      placed = true
    }
  }
  if (!placed) kept.push(on(condition, boundaries))
  document.conditions = kept
}

/** Take boundaries from a condition, and it with them when none is left. */
export function dropBoundaries(document: CaseDocument, index: number, names: string[]): void {
  const condition = document.conditions[index]
  if (!condition) return
  condition.boundaries = condition.boundaries.filter((name) => !names.includes(name))
  if (condition.type === 'periodic') condition.downstream = condition.downstream.filter((name) => !names.includes(name))
  const empty = !condition.boundaries.length || (condition.type === 'periodic' && !condition.downstream.length)
  if (empty) document.conditions.splice(index, 1)
}

/** A condition on boundaries; a module has those of its two ends already. */
const on = (condition: Condition, boundaries: string[]): Condition =>
  condition.type === 'periodic' ? condition : { ...condition, boundaries }

/**
 * The boundaries of a module's two ends, upstream ones first: the stream goes along the longer way between them, rightwards
 * or upwards. Null where they are no two ends.
 */
export function endsOf(sketch: Sketch, chosen: string[]): [upstream: string[], downstream: string[]] | null {
  const places = chosen.map((name) => {
    const lines = sketch.boundaries.find((b) => b.name === name)?.lines.flat() ?? []
    return { name, x: mean(lines, 0), y: mean(lines, 1) }
  })
  if (places.length < 2 || places.length % 2 || places.some((p) => Number.isNaN(p.x))) return null
  const span = (k: 'x' | 'y') => Math.max(...places.map((p) => p[k])) - Math.min(...places.map((p) => p[k]))
  const along = span('x') >= span('y') ? 'x' : 'y'
  const ordered = [...places].sort((a, b) => a[along] - b[along]).map((p) => p.name)
  return [ordered.slice(0, ordered.length / 2), ordered.slice(ordered.length / 2)]
}

/** Whether fields of a condition hold one of the values named for each; `*` stands for anything that is not empty. */
export function holds(subject: object, when: Record<string, string[]>): boolean {
  const fields = subject as Record<string, unknown>
  return Object.entries(when).every(([field, values]) => {
    const now = String(fields[field] ?? '').trim()
    return values.includes(now) || (now !== '' && values.includes('*'))
  })
}

/** Where a condition says how warm something is: what it holds, what enters, the ambient, the surroundings. */
const TEMPERATURES = ['temperature', 'ambient_temperature', 'surroundings_temperature']

type Texts = Record<string, unknown>

/**
 * A condition of another kind in place of one there is, with all of it that means the same in both: what has been typed for the same
 * type, when it holds, how warm it is, how fast it turns.
 */
export function insteadOf(now: Condition | null, fresh: Condition, option: Pick<Schemas['Option'], 'when' | 'gives'>): Condition {
  if (now === null) return fresh
  const [before, after] = [now as unknown as Texts, { ...fresh } as unknown as Texts]
  const said = (field: string) => String(before[field] ?? '').trim() !== ''
  const decides = (field: string) => field in (option.when ?? {}) || field === 'type' || field === 'boundaries'
  const warm = TEMPERATURES.find(said)
  for (const field of Object.keys(after)) {
    if (decides(field)) continue
    const shared = now.type === fresh.type || field === 'present' || field === 'angular_velocity'
    if (shared && said(field)) after[field] = before[field]
    else if (warm && TEMPERATURES.includes(field) && field in (option.gives ?? {})) after[field] = before[warm]
  }
  return after as unknown as Condition
}

const mean = (points: number[][], k: number) => points.reduce((sum, p) => sum + p[k]!, 0) / points.length

// Of the document's version: a condition of an older one has other fields.
const KEPT = 'wattikos.condition.3'

/** Remember a condition, to give it to boundaries of this or another case. */
export function copyCondition(condition: Condition): void {
  localStorage.setItem(KEPT, JSON.stringify(condition))
}

/** The remembered condition. */
export function copiedCondition(): Condition | null {
  const kept = localStorage.getItem(KEPT)
  return kept ? (JSON.parse(kept) as Condition) : null
}
