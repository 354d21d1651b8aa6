import { defineStore } from 'pinia'
import { ref } from 'vue'

import { api, take } from '../api/client'

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const user = ref<string | null>(null)
  const known = ref(false)

  async function load(): Promise<void> {
    user.value = (await take(api.GET('/api/session'))).user ?? null
    known.value = true
  }

  async function signIn(username: string, password: string): Promise<void> {
    user.value = (await take(api.POST('/api/session', { body: { username, password } }))).user ?? null
  }

  async function signOut(): Promise<void> {
    await take(api.DELETE('/api/session'))
    user.value = null
  }

  return { user, known, load, signIn, signOut }
})
