const BARE_NUMBER = /^\s*[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?\s*$/

const LITERAL = /^\s*[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?\s*(\S.*?)\s*$/
const UNIT = /^[a-zA-Z%°µ²³/*^·\-0-9()]+$/

/** The unit of a number with one; empty for everything else. */
export function unitIn(text: string): string {
  const unit = LITERAL.exec(text)?.[1] ?? ''
  return UNIT.test(unit) && /[a-zA-Z%°]/.test(unit) ? unit : ''
}

/** A bare number takes the unit the field had; everything else stays as typed. */
export function withDefaultUnit(text: string, unit: string): string {
  return BARE_NUMBER.test(text) && unit ? `${text.trim()} ${unit}` : text
}
