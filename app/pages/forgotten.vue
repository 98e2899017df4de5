<script setup lang="ts">
definePageMeta({ layout: 'door' })

const email = ref('')
const asked = ref('')
const { busy, detail, fields, run } = useAct()
useHead({ title: 'Password forgotten · Tsumiki' })

async function ask(): Promise<void> {
  if (await run(() => $fetch('/api/company/forgotten', { method: 'POST', body: { email: email.value } }))) {
    asked.value = email.value
  }
}
</script>

<template>
  <UiSheet title="Password forgotten">
    <p v-if="asked" role="status">
      If {{ asked }} has a sign-in here, a letter with a link to a new password is on its way. An owner can also make
      such a link for you.
    </p>
    <form v-else class="grid gap-3" @submit.prevent="ask">
      <UiTextField v-model="email" label="E-mail address" type="email" autocomplete="username" :error="fields.email" />
      <UiProblem v-if="!fields.email" :text="detail" />
      <UiButton primary type="submit" :busy="busy">Send me a link</UiButton>
    </form>
    <p class="mt-4"><NuxtLink to="/sign-in" class="underline">Back to the sign-in</NuxtLink></p>
  </UiSheet>
</template>
