<script setup lang="ts">
import type { Person } from '~~/shared/company/people'

/** The session has ended while somebody works: they sign in again in place, and everything goes on. */
const session = useSession()
const password = ref('')
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => session.hasEnded, set: () => leave() })

async function goOn(): Promise<void> {
  const body = { email: session.person?.email ?? '', password: password.value }
  if (await run(() => $fetch<Person>('/api/company/sign-in', { method: 'POST', body }))) {
    password.value = ''
    session.answerEnd(true)
  }
}
function leave(): void {
  password.value = ''
  session.answerEnd(false)
}
</script>

<template>
  <UiConfirm
    v-model="open"
    title="Your session has ended"
    act="Go on"
    :busy="busy"
    :problem="fields.password ? '' : detail"
    @act="goOn"
  >
    <p class="mb-3">Sign in again as {{ session.person?.name }}. What you typed is still here, and goes on.</p>
    <FormText
      v-model="password"
      label="Password"
      type="password"
      autocomplete="current-password"
      :error="fields.password"
    />
  </UiConfirm>
</template>
