<script setup lang="ts">
import { LEAST_PASSWORD } from '~~/shared/company/words'

definePageMeta({ layout: 'door' })

const session = useSession()
const token = useRoute().hash.slice(1)
const { data: link, error } = await useFetch('/api/company/password-link', { method: 'POST', body: { token } })
const password = ref('')
const { busy, detail, fields, run } = useAct()
useHead({ title: 'Choose a password · Tsumiki' })

/** Chooses the password, and comes in with it; where there is a second factor, by the door. */
async function choose(): Promise<void> {
  const chosen = await run(() =>
    $fetch('/api/company/password-by-link', { method: 'POST', body: { token, password: password.value } }),
  )
  if (!chosen) {
    return
  }
  await $fetch('/api/company/sign-in', {
    method: 'POST',
    body: { email: chosen.email, password: password.value },
  }).catch(() => undefined)
  await session.load()
  await navigateTo(session.person ? '/' : '/sign-in')
}
</script>

<template>
  <UiSheet :title="link ? `Welcome, ${link.name}` : 'Choose a password'">
    <template v-if="error">
      <UiProblem :text="problemOf(error).detail" />
      <p class="mt-4"><NuxtLink to="/forgotten" class="underline">Ask for a new link</NuxtLink></p>
    </template>
    <form v-else class="grid gap-3" @submit.prevent="choose">
      <p>Choose the password with which {{ link?.email }} signs in to {{ session.company?.name }}.</p>
      <input type="hidden" autocomplete="username" :value="link?.email" />
      <UiTextField
        v-model="password"
        :label="`A password of at least ${LEAST_PASSWORD} characters`"
        hint="three or four words that have nothing to do with each other"
        type="password"
        autocomplete="new-password"
        :error="fields.password"
      />
      <UiProblem v-if="!fields.password" :text="detail" />
      <UiButton primary type="submit" :busy="busy">Choose it and come in</UiButton>
    </form>
  </UiSheet>
</template>
