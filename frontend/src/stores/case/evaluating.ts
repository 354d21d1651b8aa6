import { useTimeoutFn } from '@vueuse/core'
import { shallowRef, type ShallowRef } from 'vue'

import { api, ApiError, take, type CaseDocument, type CaseView, type Sketch } from '../../api/client'
import { useUnits } from '../../quantity/units'

/** A question that takes longer is dropped when something else has been typed since. */
const OVERTAKEN_AFTER = 600

/** A drawing with the conditions of a newer one that cannot show their flags. */
function withConditions(drawn: Sketch, newer: Sketch): Sketch {
  const now = new Map(newer.boundaries.map((b) => [b.name, b]))
  const boundaries = drawn.boundaries.map((b) => {
    const there = now.get(b.name)
    if (!there || (there.condition === b.condition && there.flag !== 'cannot be read')) return b
    return { ...b, condition: there.condition, flag: there.flag, kind: there.kind }
  })
  return { ...drawn, boundaries }
}

/**
 * What the server says of the document while one types: sketch, hand calculation, problems, and by what it differs from the case of
 * each run. It is asked at once; what is typed while it thinks is asked about when it has answered, so that it never has more than one
 * question.
 */
export function useEvaluating(document: ShallowRef<CaseDocument | null>, runs: () => number[] = () => []) {
  const units = useUnits()
  const view = shallowRef<CaseView | null>(null)
  const sketch = shallowRef<CaseView['sketch']>(null)
  /** For each run that was asked about: what the case has changed since. */
  const changed = shallowRef<Record<string, string[]>>({})
  let asking: Promise<void> | null = null
  let question = new AbortController()
  const overtake = useTimeoutFn(() => question.abort(), OVERTAKEN_AFTER, { immediate: false })
  let again = false
  /** Answers about a case that has been left are not heard. */
  let visit = 0

  async function ask(): Promise<void> {
    const mine = visit
    const about = document.value
    if (!about) return
    question = new AbortController()
    const { signal } = question
    try {
      const answer = await take(api.POST('/api/evaluate', { body: { document: about, runs: runs() }, signal }))
      if (mine !== visit || signal.aborted) return
      view.value = answer
      changed.value = answer.changed
      units.fit('time', answer.lasts)
      // While something is being typed that cannot be drawn, the last drawing stays, with the conditions that are there now.
      if (answer.sketch)
        sketch.value = answer.sketch.bare && sketch.value ? withConditions(sketch.value, answer.sketch) : answer.sketch
    } catch (error) {
      if (signal.aborted || (error instanceof ApiError && error.status === 409)) return
      if (error instanceof ApiError && mine === visit && view.value) view.value = { ...view.value, problems: error.problems }
    }
  }

  /** Ask about the document as it stands; over when the answer to that is there. */
  async function evaluate(): Promise<void> {
    if (asking) {
      again = true
      if (!overtake.isPending.value) overtake.start()
      return asking
    }
    asking = (async () => {
      do {
        again = false
        overtake.stop()
        await ask()
      } while (again)
    })()
    await asking.finally(() => (asking = null))
  }

  function forget(): void {
    visit++
    question.abort()
    view.value = sketch.value = null
    changed.value = {}
  }

  return { view, sketch, changed, evaluate, forget }
}
