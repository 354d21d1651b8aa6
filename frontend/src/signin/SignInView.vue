<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { useSession } from '../stores/session'

const session = useSession()
const router = useRouter()
const used = useRoute().query.used === '1'
const username = ref('')
const password = ref('')
const error = ref('')

async function submit(): Promise<void> {
  error.value = ''
  try {
    await session.signIn(username.value, password.value)
    await router.push('/')
  } catch (problem) {
    error.value = problem instanceof Error ? problem.message : String(problem)
  }
}
</script>

<template>
  <main class="page">
    <form class="sheet" @submit.prevent="submit">
      <h1 class="pad-title">Wattikos</h1>
      <p v-if="used" class="doubt">
        This one-time link has been used or is too old. Start the program again for a new one, or sign in with a password.
      </p>
      <div class="form">
        <v-label id="name-label" for="name">Name</v-label>
        <v-text-field id="name" v-model="username" autocomplete="username" required />
        <v-label id="password-label" for="password">Password</v-label>
        <v-text-field id="password" v-model="password" type="password" autocomplete="current-password" required />
      </div>
      <p v-if="error" class="fault" role="alert">{{ error }}</p>
      <v-btn color="primary" variant="flat" type="submit">Sign in</v-btn>
    </form>
  </main>
</template>

<style scoped>
.page {
  height: 100%;
  display: grid;
  place-items: center;
}
form {
  width: 360px;
  gap: 12px;
  padding: 20px;
}
h1 {
  font-size: 22px;
  margin: 0;
}
p {
  margin: 0;
  white-space: pre-line;
}
button {
  align-self: flex-end;
}
</style>
