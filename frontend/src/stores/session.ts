import { defineStore } from 'pinia'
import { ref } from 'vue'

import { api, take } from '../api/client'

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const user = ref<string | null>(null)
  const known = ref(false)
  /** Whether the person has a password, and not links alone. */
  const password = ref(false)

  async function load(): Promise<void> {
    const now = await take(api.GET('/api/session'))
    user.value = now.user ?? null
    password.value = now.password ?? false
    known.value = true
  }

  async function signIn(username: string, secret: string): Promise<void> {
    user.value = (await take(api.POST('/api/session', { body: { username, password: secret } }))).user ?? null
    password.value = true
  }

  async function setPassword(current: string, fresh: string): Promise<void> {
    await take(api.PUT('/api/session/password', { body: { current, new: fresh } }))
    password.value = true
  }

  async function signOut(): Promise<void> {
    await take(api.DELETE('/api/session'))
    user.value = null
  }

  return { user, known, password, load, signIn, setPassword, signOut }
})
