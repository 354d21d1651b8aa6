import type { CaseDocument } from '../api/client'

/** The lines, probes and views of a document; none in one that was kept in the browser before there were any. */
export function readingOf(document: CaseDocument): NonNullable<CaseDocument['reading']> {
  document.reading ??= { lines: [], probes: [], views: [], balances: false }
  return document.reading
}
