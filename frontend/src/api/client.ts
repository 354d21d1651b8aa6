import createClient from 'openapi-fetch'

import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type CaseDocument = Schemas['Case']
export type CaseView = Schemas['CaseViewOut']
export type Sketch = Schemas['SketchOut']
export type BoundaryView = Schemas['BoundaryOut']
export type Dimension = Schemas['DimensionOut']
export type LedgerRow = Schemas['LedgerRowOut']
export type Finding = Schemas['FindingOut']
export type Problem = Schemas['ProblemOut']
export type Run = Schemas['RunOut']
export type Fields = Schemas['FieldsOut']
export type Mesh = Schemas['MeshOut']
export type Condition = CaseDocument['conditions'][number]

/** An answer that is not what was asked for, with what the server says about it. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
  ) {
    super(problems.map((p) => `${p.problem}; ${p.remedy}`).join('\n') || `the server answered ${status}`)
  }
}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
}

export const api = createClient<paths>({ baseUrl: '/', credentials: 'same-origin' })

let onSignedOut = () => {}

/** What to do when the session has ended. */
export function whenSignedOut(action: () => void): void {
  onSignedOut = action
}

/** Tells this tab from others: a newer question of it takes the place of an older one. */
const desk = Math.random().toString(36).slice(2)

api.use({
  onRequest({ request }) {
    request.headers.set('X-Desk', desk)
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
  onResponse({ response }) {
    if (response.status === 401) onSignedOut()
    return response
  },
})

/** The data of an answer, or an ApiError. */
export async function take<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result
  try {
    result = await answer
  } catch {
    throw new ApiError(0, [
      { field: '', problem: 'the server does not answer', remedy: 'look whether it is running; what you entered is kept here' },
    ])
  }
  if (result.response.ok) return result.data as T
  const body = result.error as { problems?: Problem[] } | undefined
  throw new ApiError(result.response.status, body?.problems ?? [])
}

/** Send a file with form fields; the answer, or an ApiError. */
export async function upload<T>(path: string, file: File, fields: Record<string, string> = {}): Promise<T> {
  const body = new FormData()
  body.append('file', file)
  for (const [name, value] of Object.entries(fields)) body.append(name, value)
  let response: Response
  try {
    response = await fetch(path, { method: 'POST', body, credentials: 'same-origin', headers: { 'X-CSRFToken': csrfToken() } })
  } catch {
    throw new ApiError(0, [
      { field: '', problem: 'the server does not answer', remedy: 'look whether it is running; what you entered is kept here' },
    ])
  }
  if (response.status === 401) onSignedOut()
  const answer = (await response.json().catch(() => ({}))) as T & { problems?: Problem[] }
  if (!response.ok) throw new ApiError(response.status, answer.problems ?? [])
  return answer
}

/** What the server has at a path, as it is. */
export async function fetchBytes(path: string): Promise<ArrayBuffer> {
  let response: Response
  try {
    response = await fetch(path, { credentials: 'same-origin' })
  } catch {
    throw new ApiError(0, [{ field: '', problem: 'the server does not answer', remedy: 'look whether it is running' }])
  }
  if (response.status === 401) onSignedOut()
  if (!response.ok) throw new ApiError(response.status, [])
  return response.arrayBuffer()
}

/** A file the server makes from a body. */
export async function fetchFile(path: string, body: unknown): Promise<Blob> {
  const response = await fetch(path, {
    method: 'POST',
    body: JSON.stringify(body),
    credentials: 'same-origin',
    headers: { 'Content-Type': 'application/json', 'X-CSRFToken': csrfToken() },
  })
  if (response.status === 401) onSignedOut()
  if (!response.ok)
    throw new ApiError(response.status, ((await response.json().catch(() => ({}))) as { problems?: Problem[] }).problems ?? [])
  return response.blob()
}

/** Hand the content of a file to the browser to save. */
export function saveFile(content: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
