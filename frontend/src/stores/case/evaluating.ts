import { useTimeoutFn } from '@vueuse/core'
import { shallowRef, type ShallowRef } from 'vue'

import { api, ApiError, take, type CaseDocument, type CaseView } from '../../api/client'
import { useUnits } from '../../quantity/units'

const AFTER = 90

/** What the server says of the document while one types: sketch, hand calculation, problems. */
export function useEvaluating(document: ShallowRef<CaseDocument | null>) {
  const units = useUnits()
  const view = shallowRef<CaseView | null>(null)
  const sketch = shallowRef<CaseView['sketch']>(null)
  const later = useTimeoutFn(() => void evaluate(), AFTER, { immediate: false })
  let asked = 0

  async function evaluate(): Promise<void> {
    if (!document.value) return
    const mine = ++asked
    try {
      const answer = await take(api.POST('/api/evaluate', { body: document.value }))
      if (mine !== asked) return
      view.value = answer
      units.fit('time', answer.lasts)
      // While something is being typed that cannot be drawn, the last drawing stays.
      if (answer.sketch && !(answer.sketch.bare && sketch.value)) sketch.value = answer.sketch
    } catch (error) {
      if (error instanceof ApiError && mine === asked && view.value) view.value = { ...view.value, problems: error.problems }
    }
  }

  function forget(): void {
    later.stop()
    asked++
    view.value = sketch.value = null
  }

  return { view, sketch, evaluate, evaluateLater: later.start, forget }
}
