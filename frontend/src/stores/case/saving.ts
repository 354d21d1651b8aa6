import { useTimeoutFn } from '@vueuse/core'
import { ref, shallowRef, type Ref, type ShallowRef } from 'vue'

import { api, take, type CaseDocument, type Schemas } from '../../api/client'
import { placeInWords } from '../../quantity/places'

const SAVE_AFTER = 700
const TRY_AGAIN_AFTER = 3000

export type SaveState = 'saved' | 'unsaved' | 'saving' | 'conflict' | 'offline'

interface Saved {
  id: Ref<number>
  projectId: Ref<number>
  revision: Ref<number>
  document: ShallowRef<CaseDocument | null>
  /** Put another document in the place of this one, so that it can be taken back. */
  replace: (next: CaseDocument) => void
  evaluate: () => Promise<void>
}

/** Saving by itself, what could not be saved kept in the browser, and two tabs that have edited one case. */
export function useSaving({ id, projectId, revision, document, replace, evaluate }: Saved) {
  const saveState = ref<SaveState>('saved')
  const saveError = ref('')
  /** A revision that was saved elsewhere; 0 where there is none. */
  const newer = ref(0)
  const conflict = shallowRef<Schemas['ConflictOut'] | null>(null)
  const later = useTimeoutFn(() => void save(), SAVE_AFTER, { immediate: false })
  const again = useTimeoutFn(
    () => {
      saveState.value = 'unsaved'
      void save()
    },
    TRY_AGAIN_AFTER,
    { immediate: false },
  )
  let sending: Promise<boolean> | null = null
  let visit = 0
  const keptKey = () => `wattikos.unsaved.${id.value}`

  /** Note that the document differs from what is stored. */
  function unsaved(): void {
    saveState.value = saveState.value === 'conflict' ? 'conflict' : 'unsaved'
    localStorage.setItem(keptKey(), JSON.stringify({ revision: revision.value, document: document.value }))
    later.start()
  }

  /** What a former visit could not save (server gone, browser closed), if anything. */
  function kept(): { revision: number; document: CaseDocument } | null {
    const text = localStorage.getItem(keptKey())
    if (!text) return null
    const before = JSON.parse(text) as { revision: number; document: CaseDocument }
    if (JSON.stringify(before.document) !== JSON.stringify(document.value)) return before
    localStorage.removeItem(keptKey())
    return null
  }

  /** Save what is not saved; one request at a time, each with what stands when it begins. */
  async function save(): Promise<boolean> {
    later.stop()
    while (sending) await sending
    if (!document.value || saveState.value === 'conflict') return false
    if (saveState.value === 'saved') return true
    const sent = send(document.value)
    sending = sent.finally(() => (sending = null))
    await sending
    return (await sent) ? save() : false
  }

  /** Send a document; whether the server has it. An answer about a case that has been left changes nothing here. */
  async function send(sent: CaseDocument): Promise<boolean> {
    const mine = visit
    const key = keptKey()
    saveState.value = 'saving'
    const { data, error, response } = await api
      .PUT('/api/cases/{case}', { params: { path: { case: id.value } }, body: { revision: revision.value, document: sent } })
      .catch(() => ({ data: undefined, error: undefined, response: undefined }))
    if (mine !== visit) {
      if (data && localStorage.getItem(key)?.endsWith(`${JSON.stringify(sent)}}`)) localStorage.removeItem(key)
      return false
    }
    if (!response) {
      saveState.value = 'offline'
      again.start()
      return false
    }
    if (data) {
      revision.value = data.revision
      newer.value = 0
      saveError.value = ''
      saveState.value = document.value === sent ? 'saved' : 'unsaved'
      if (saveState.value === 'saved') localStorage.removeItem(key)
      return true
    }
    if (response.status === 409) {
      conflict.value = error as Schemas['ConflictOut']
      saveState.value = 'conflict'
    } else {
      saveError.value = ((error as { problems?: Schemas['ProblemOut'][] })?.problems ?? [])
        .map((p) => `${placeInWords(p.field, document.value)}: ${p.problem}; ${p.remedy}`)
        .join('\n')
      saveState.value = 'unsaved'
    }
    return false
  }

  /** Take theirs, put mine on top, or keep mine as a copy, whose number is returned. */
  async function settle(choice: 'theirs' | 'mine' | 'copy'): Promise<number | null> {
    const other = conflict.value
    if (!other || !document.value) return null
    let copy: number | null = null
    if (choice === 'copy') {
      const body = { document: document.value, title: `${document.value.title}, my copy` }
      copy = (await take(api.POST('/api/projects/{project}/cases', { params: { path: { project: projectId.value } }, body }))).id
    }
    revision.value = other.revision
    conflict.value = null
    if (choice === 'mine') {
      saveState.value = 'unsaved'
      await save()
    } else {
      replace(other.document)
      saveState.value = 'saved'
      localStorage.removeItem(keptKey())
      await evaluate()
    }
    return copy
  }

  /** Hear which revision is stored now: what another tab or person has saved is told when it comes. */
  function hear(stored: number): void {
    newer.value = stored > revision.value && !sending && saveState.value !== 'conflict' ? stored : 0
  }

  /** Take over what was saved elsewhere; it can be undone. */
  async function takeNewer(): Promise<void> {
    const stored = await take(api.GET('/api/cases/{case}', { params: { path: { case: id.value } } }))
    revision.value = stored.revision
    newer.value = 0
    replace(stored.document)
    saveState.value = 'saved'
    localStorage.removeItem(keptKey())
    await evaluate()
  }

  function forget(): void {
    if (saveState.value === 'unsaved') void save()
    visit++
    later.stop()
    again.stop()
    conflict.value = null
    newer.value = 0
    saveState.value = 'saved'
  }

  return { saveState, saveError, conflict, newer, hear, takeNewer, unsaved, kept, save, settle, forget }
}
