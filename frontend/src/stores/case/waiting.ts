import type { Run } from '../../api/client'

/** What a run is doing, in words: while it waits, behind what and about how long. */
export function stageOf(run: Run): string {
  if (run.state !== 'queued') return String(run.progress.stage ?? '')
  const behind = run.waits?.behind ?? []
  if (!behind.length) return 'starting'
  const more = behind.length > 1 ? ` and ${behind.length - 1} more` : ''
  const seconds = run.waits?.seconds
  return `waiting behind “${behind[0]}”${more}${seconds ? `, about ${lasting(seconds)}` : ''}`
}

const lasting = (seconds: number) => (seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`)
