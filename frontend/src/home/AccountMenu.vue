<script setup lang="ts">
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { api, ApiError, take, type Schemas } from '../api/client'
import { useNotices } from '../pad/notices'
import PadMenu from '../pad/PadMenu.vue'
import { useSession } from '../stores/session'

/** The person who is signed in: a password, where else a session is open, and signing out. */
const session = useSession()
const router = useRouter()
const notices = useNotices()
const shown = ref<'' | 'password' | 'sessions' | 'tokens'>('')
const current = ref('')
const fresh = ref('')
const error = ref('')
const lines = ref<Schemas['SessionLineOut'][]>([])

async function choose(what: string): Promise<void> {
  error.value = current.value = fresh.value = ''
  if (what === 'out') {
    await session.signOut()
    await router.push('/sign-in')
    return
  }
  if (what === 'sessions') lines.value = await take(api.GET('/api/sessions'))
  if (what === 'tokens') tokens.value = await take(api.GET('/api/tokens'))
  shown.value = what as 'password' | 'sessions' | 'tokens'
}

// Tokens by which one's own programs use the API.
const tokens = ref<Schemas['TokenOut'][]>([])
const tokenName = ref('')
/** What is shown of a new token, once. */
const secret = ref('')
async function makeToken(): Promise<void> {
  error.value = secret.value = ''
  try {
    const made = await take(api.POST('/api/tokens', { body: { name: tokenName.value } }))
    secret.value = made.secret
    tokens.value = [made, ...tokens.value]
    tokenName.value = ''
  } catch (problem) {
    error.value = problem instanceof ApiError ? problem.message : String(problem)
  }
}
async function revoke(token: Schemas['TokenOut']): Promise<void> {
  await take(api.DELETE('/api/tokens/{token}', { params: { path: { token: token.id } } }))
  tokens.value = tokens.value.filter((one) => one.id !== token.id)
}

async function keep(): Promise<void> {
  try {
    await session.setPassword(current.value, fresh.value)
    shown.value = ''
    notices.say('the password is set; all other sessions have ended')
  } catch (problem) {
    error.value = problem instanceof ApiError ? problem.message : String(problem)
  }
}

async function end(line: Schemas['SessionLineOut']): Promise<void> {
  await take(api.DELETE('/api/sessions/{session}', { params: { path: { session: line.id } } }))
  lines.value = lines.value.filter((one) => one.id !== line.id)
}

/** The browser and system of a session, from what the browser says of itself. */
function device(text: string): string {
  const browser = /(Firefox|Edg|Chrome|Safari)\//.exec(text)?.[1] ?? 'a program'
  const system = /(Windows|Mac OS|Android|iPhone|Linux)/.exec(text)?.[1]
  return system ? `${browser.replace('Edg', 'Edge')} on ${system}` : browser
}
</script>

<template>
  <PadMenu
    :label="session.user ?? ''"
    data-test="account"
    :items="[
      { value: 'password', title: session.password ? 'change the password…' : 'set a password…' },
      { value: 'sessions', title: 'where I am signed in…' },
      { value: 'tokens', title: 'tokens for programs…' },
      { value: 'out', title: 'sign out' },
    ]"
    @choose="choose"
  />
  <v-dialog :model-value="shown === 'password'" max-width="420" aria-label="password" @update:model-value="shown = ''">
    <v-card class="ask">
      <h2 class="pad-title">{{ session.password ? 'Another password' : 'A password' }}</h2>
      <v-form class="fields" @submit.prevent="keep">
        <v-text-field
          class="unseen"
          autocomplete="username"
          :model-value="session.user"
          tabindex="-1"
          aria-hidden="true"
          readonly
        />
        <template v-if="session.password">
          <v-label id="current-label" for="current">the one you have</v-label>
          <v-text-field id="current" v-model="current" type="password" autocomplete="current-password" maxlength="200" />
        </template>
        <v-label id="fresh-label" for="fresh">the new one, at least ten characters</v-label>
        <v-text-field id="fresh" v-model="fresh" type="password" autocomplete="new-password" maxlength="200" autofocus />
        <p v-if="error" class="fault" role="alert">{{ error }}</p>
        <div class="row">
          <span class="grow"></span>
          <v-btn @click="shown = ''">Cancel</v-btn>
          <v-btn color="primary" variant="flat" type="submit" data-test="set-password">Set it</v-btn>
        </div>
      </v-form>
    </v-card>
  </v-dialog>
  <v-dialog :model-value="shown === 'sessions'" max-width="520" aria-label="sessions" @update:model-value="shown = ''">
    <v-card class="ask">
      <h2 class="pad-title">Where you are signed in</h2>
      <v-table class="dense">
        <tbody>
          <tr v-for="line in lines" :key="line.id" :data-session="line.own ? 'own' : line.id">
            <td>{{ device(line.device) }}</td>
            <td class="muted small">last used {{ new Date(line.seen).toLocaleString() }}</td>
            <td class="number">
              <span v-if="line.own" class="muted small">here</span>
              <v-btn v-else variant="text" size="small" @click="end(line)">sign out there</v-btn>
            </td>
          </tr>
        </tbody>
      </v-table>
    </v-card>
  </v-dialog>
  <v-dialog :model-value="shown === 'tokens'" max-width="560" aria-label="tokens" @update:model-value="shown = secret = ''">
    <v-card class="ask" data-test="tokens">
      <h2 class="pad-title">Tokens for programs</h2>
      <p class="muted small">
        A program of yours shows a token to use the API as you do: <code>Authorization: Bearer …</code>. What there is to ask for
        stands under <a href="/api/docs" target="_blank" rel="noopener">/api/docs</a>.
      </p>
      <v-form class="row" @submit.prevent="makeToken">
        <v-text-field v-model="tokenName" placeholder="what it is for" aria-label="name of the token" maxlength="80" />
        <v-btn type="submit" data-test="make-token" :disabled="!tokenName.trim()">Make one</v-btn>
      </v-form>
      <p v-if="error" class="fault" role="alert">{{ error }}</p>
      <p v-if="secret" role="status">
        Copy it now, it is not shown again: <code class="secret" data-test="secret">{{ secret }}</code>
      </p>
      <v-table v-if="tokens.length" class="dense">
        <tbody>
          <tr v-for="token in tokens" :key="token.id" data-test="token">
            <td>{{ token.name }}</td>
            <td class="muted small">
              {{ token.used ? `last used ${new Date(token.used).toLocaleString()}` : 'not used yet' }}
            </td>
            <td class="number"><v-btn variant="text" size="small" @click="revoke(token)">revoke</v-btn></td>
          </tr>
        </tbody>
      </v-table>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.secret {
  user-select: all;
  overflow-wrap: anywhere;
}
.ask {
  padding: 18px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.fields {
  display: flex;
  flex-direction: column;
  gap: 6px;
}
</style>
