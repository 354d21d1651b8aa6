const BARE_NUMBER = /^\s*[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?\s*$/

/** A bare number takes the unit the field had; everything else stays as typed. */
export function withDefaultUnit(text: string, unit: string): string {
  return BARE_NUMBER.test(text) && unit ? `${text.trim()} ${unit}` : text
}
