/** Lengths and places as people write them: numbers in mm, or expressions. */

/** A place as people write it, in mm: so exactly that a sum of two such lengths lies where it was snapped to. */
export const mm = (metres: number) => `${Number((1000 * metres).toFixed(8))} mm`

const LITERAL = /^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*(mm|cm|m|um|in|ft)\s*$/
const PER_UNIT: Record<string, number> = { mm: 1e-3, cm: 1e-2, m: 1, um: 1e-6, in: 0.0254, ft: 0.3048 }
const ADDED = /^(.*\S)\s*([+-])\s*(\d+\.?\d*(?:[eE][-+]?\d+)?)\s*mm\s*$/

/** A length that is written as a number, in metres; null for an expression. */
export function metresIn(text: string): number | null {
  const literal = LITERAL.exec(text)
  return literal ? Number(literal[1]) * PER_UNIT[literal[2]!]! : null
}

/** An expression for a place that lies `by` metres further; what it depends on stays in it. */
export function shifted(text: string, by: number): string {
  if (Math.abs(by) < 1e-12) return text
  const literal = metresIn(text)
  if (literal !== null) return mm(literal + by)
  const added = ADDED.exec(text)
  const before = added ? Number(added[3]) * 1e-3 * (added[2] === '-' ? -1 : 1) : 0
  const rest = added ? added[1]! : text.trim()
  const sum = before + by
  if (Math.abs(sum) < 1e-12) return rest
  return `${rest} ${sum < 0 ? '-' : '+'} ${mm(Math.abs(sum))}`
}

const zero = (text: string) => metresIn(text) === 0 || !text.trim()
const several = (text: string) => /[+-]/.test(text.trim().slice(1))

/** The sum of two lengths as they are written. */
export function plus(a: string, b: string): string {
  if (zero(a)) return b
  if (zero(b)) return a
  const [left, right] = [metresIn(a), metresIn(b)]
  if (left !== null && right !== null) return mm(left + right)
  return b.trim().startsWith('-') ? `${a} + (${b})` : `${a} + ${b}`
}

/** The difference of two lengths as they are written: of `x + width` and `x` it is `width`. */
export function minus(a: string, b: string): string {
  if (zero(b)) return a
  if (a.trim() === b.trim()) return '0 mm'
  if (a.startsWith(`${b} + `)) return a.slice(b.length + 3)
  const [left, right] = [metresIn(a), metresIn(b)]
  if (left !== null && right !== null) return mm(left - right)
  return `${a} - ${several(b) ? `(${b})` : b}`
}

export function half(text: string): string {
  const known = metresIn(text)
  if (known !== null) return mm(known / 2)
  return several(text) ? `(${text})/2` : `${text}/2`
}
