import { shallowRef, type ShallowRef } from 'vue'

import { api, ApiError, take, type CaseDocument, type CaseView } from '../../api/client'
import { useUnits } from '../../quantity/units'

/**
 * What the server says of the document while one types: sketch, hand calculation, problems. It is asked at once; what is typed while it
 * thinks is asked about when it has answered, so that it never has more than one question.
 */
export function useEvaluating(document: ShallowRef<CaseDocument | null>) {
  const units = useUnits()
  const view = shallowRef<CaseView | null>(null)
  const sketch = shallowRef<CaseView['sketch']>(null)
  let asking: Promise<void> | null = null
  let again = false
  /** Answers about a case that has been left are not heard. */
  let visit = 0

  async function ask(): Promise<void> {
    const mine = visit
    const about = document.value
    if (!about) return
    try {
      const answer = await take(api.POST('/api/evaluate', { body: about }))
      if (mine !== visit) return
      view.value = answer
      units.fit('time', answer.lasts)
      // While something is being typed that cannot be drawn, the last drawing stays.
      if (answer.sketch && !(answer.sketch.bare && sketch.value)) sketch.value = answer.sketch
    } catch (error) {
      if (error instanceof ApiError && mine === visit && view.value) view.value = { ...view.value, problems: error.problems }
    }
  }

  /** Ask about the document as it stands; over when the answer to that is there. */
  async function evaluate(): Promise<void> {
    if (asking) {
      again = true
      return asking
    }
    asking = (async () => {
      do {
        again = false
        await ask()
      } while (again)
    })()
    await asking.finally(() => (asking = null))
  }

  function forget(): void {
    visit++
    view.value = sketch.value = null
  }

  return { view, sketch, evaluate, forget }
}
