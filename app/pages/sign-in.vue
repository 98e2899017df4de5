<script setup lang="ts">
definePageMeta({ layout: 'door' })

const session = useSession()
const route = useRoute()
const email = ref('')
const { password, code, isAskedForCode, busy, fields, told, signIn } = useSignIn()

useHead({ title: 'Sign in · Tsumiki' })

/** Where somebody was going before the door stood in the way; only within these pages. */
const target = computed(() => {
  const { to } = route.query
  return typeof to === 'string' && /^\/(?![/\\])/.test(to) ? to : '/'
})
async function enter(): Promise<void> {
  if (await signIn(email.value)) {
    await session.load()
    await navigateTo(target.value)
  }
}
function use(hint: { email: string; password: string }): void {
  email.value = hint.email
  password.value = hint.password
  void enter()
}
</script>

<template>
  <UiSheet :title="`Sign in to ${session.company?.name ?? 'Tsumiki'}`">
    <form class="grid gap-3" @submit.prevent="enter">
      <UiTextField v-model="email" label="E-mail address" type="email" autocomplete="username" :error="fields.email" />
      <CompanySignInFields
        v-model:password="password"
        v-model:code="code"
        :is-asked-for-code="isAskedForCode"
        :fields="fields"
        :told="told"
      />
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
