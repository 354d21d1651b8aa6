import { useBroadcastChannel, useDocumentVisibility, useIntervalFn } from '@vueuse/core'
import { watch, type Ref } from 'vue'

import { api, take } from '../../api/client'

const LOOK_EVERY = 5000

/** What is stored of a case by others: other tabs of this browser tell at once, the server is asked while the page is looked at. */
export function useElsewhere(id: Ref<number>, revision: Ref<number>, hear: (stored: number) => void) {
  const visible = useDocumentVisibility()
  const { data, post } = useBroadcastChannel<{ id: number; revision: number }, { id: number; revision: number }>({
    name: 'wattikos.saved',
  })
  watch(data, (told) => {
    if (told && told.id === id.value) hear(told.revision)
  })
  watch(revision, (now, before) => {
    if (now > before && before > 0) post({ id: id.value, revision: now })
  })
  const { pause, resume } = useIntervalFn(() => void look(), LOOK_EVERY, { immediate: false })

  async function look(): Promise<void> {
    if (visible.value !== 'visible' || !id.value) return
    const asked = id.value
    try {
      const state = await take(api.GET('/api/cases/{case}/state', { params: { path: { case: asked } } }))
      if (asked === id.value) hear(state.revision)
    } catch {
      // The next look, or the next save, tells what is wrong.
    }
  }

  return { begin: resume, end: pause }
}
