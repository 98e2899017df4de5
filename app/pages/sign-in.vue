<script setup lang="ts">
definePageMeta({ layout: 'door' })

const session = useSession()
const route = useRoute()
const email = ref('')
const password = ref('')
const code = ref('')
/** The password was right, and the second factor is asked for. */
const isAskedForCode = ref(false)
const { busy, detail, code: problem, fields, run } = useAct()

useHead({ title: 'Sign in · Tsumiki' })

async function signIn(): Promise<void> {
  const person = await run(() =>
    $fetch('/api/company/sign-in', {
      method: 'POST',
      body: { email: email.value, password: password.value, code: code.value },
    }),
  )
  if (!person) {
    isAskedForCode.value ||= problem.value === 'second-factor'
    return
  }
  await session.load()
  await navigateTo(typeof route.query.to === 'string' && route.query.to.startsWith('/') ? route.query.to : '/')
}
function use(hint: { email: string; password: string }): void {
  email.value = hint.email
  password.value = hint.password
  void signIn()
}
</script>

<template>
  <UiSheet :title="`Sign in to ${session.company?.name ?? 'Tsumiki'}`">
    <form class="grid gap-3" @submit.prevent="signIn">
      <UiTextField v-model="email" label="E-mail address" type="email" autocomplete="username" :error="fields.email" />
      <UiTextField
        v-model="password"
        label="Password"
        type="password"
        autocomplete="current-password"
        :error="fields.password"
      />
      <UiTextField
        v-if="isAskedForCode"
        v-model="code"
        label="Code"
        hint="The six digits that your app shows now, or a recovery code."
        autocomplete="one-time-code"
        :error="fields.code"
      />
      <UiProblem v-if="Object.keys(fields).length === 0 && problem !== 'second-factor'" :text="detail" />
      <UiButton primary type="submit" :busy="busy">Sign in</UiButton>
      <NuxtLink to="/forgotten" class="justify-self-start text-soft underline">Password forgotten?</NuxtLink>
    </form>
    <div v-if="session.signIns.length > 0" class="mt-5 border-t border-line pt-4">
      <p class="mb-2 text-soft">This is the demo. Come in as</p>
      <div class="grid grid-cols-1 sm:grid-cols-2 gap-2">
        <UiButton v-for="hint in session.signIns" :key="hint.email" @click="use(hint)"
          >{{ hint.name }} <span class="text-soft">{{ hint.role }}</span></UiButton
        >
      </div>
    </div>
  </UiSheet>
</template>
