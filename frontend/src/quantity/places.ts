import type { CaseDocument } from '../api/client'

const WORDS: Record<string, string> = {
  section: 'drawing',
  physics: 'physics',
  time: 'times',
  grid: 'grid',
  solve: 'solve',
  tables: 'table',
  materials: 'material',
  wanted: 'target',
  sizing: 'sizing',
  case: 'case',
}

/** Where something was entered, in words: a path into the document as a person knows the place. */
export function placeInWords(path: string, document: CaseDocument | null): string {
  const [, head = '', index = '', rest = ''] = /^(?:section\.)?([a-z_]+)(?:\[(\d+)\])?\.?(.*)$/.exec(path) ?? []
  const at = Number(index)
  const last = (
    rest
      .replaceAll(/\[\d+\]/g, '')
      .split('.')
      .at(-1) ?? ''
  ).replaceAll('_', ' ')
  const of = (owner: string) => [owner, last].filter(Boolean).join(': ')
  if (head === 'inputs') return document?.inputs[rest.split('.')[0] ?? '']?.label || (rest.split('.')[0] ?? '')
  if (head === 'parts' && index) return of(document?.section.parts[at]?.name ?? 'a part')
  if (head === 'parts') return 'parts'
  if (head === 'conditions' && index) return of(`condition on ${document?.conditions[at]?.boundaries[0] ?? 'nothing'}`)
  if (head === 'contacts' && index) return of(`contact of ${document?.contacts[at]?.between.join(' and ') ?? ''}`)
  if (head === 'estimates' && index) return of('hand calculation')
  return of(WORDS[head] ?? head.replaceAll('_', ' '))
}
