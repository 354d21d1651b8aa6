import type { CaseDocument } from '../../api/client'

/** Write a value at a path of a document (`section.parts[1].radiation.emissivity`); what is empty on the way is made. */
export function put(document: CaseDocument, path: string, value: unknown): void {
  const steps = path.replaceAll(/\[(\d+)\]/g, '.$1').split('.')
  let at = document as unknown as Record<string, unknown>
  for (const step of steps.slice(0, -1)) at = (at[step] ??= {}) as Record<string, unknown>
  at[steps.at(-1)!] = value
}
