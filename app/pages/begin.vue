<script setup lang="ts">
import { LEAST_PASSWORD } from '~~/shared/company/words'

definePageMeta({ layout: 'door' })

const session = useSession()
const form = reactive({
  // The address that is told where Tsumiki was started ends with it.
  setUpCode: useRoute().hash.slice(1),
  company: '',
  currency: 'EUR',
  name: '',
  email: '',
  password: '',
  timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
})
const { busy, detail, fields, run } = useAct()

useHead({ title: 'Begin · Tsumiki' })

async function begin(): Promise<void> {
  const person = await run(() => $fetch('/api/company/first-owner', { method: 'POST', body: form }))
  if (!person) {
    return
  }
  await session.load()
  await navigateTo('/')
}
</script>

<template>
  <UiSheet title="Begin your company">
    <form class="grid gap-3" @submit.prevent="begin">
      <UiTextField
        v-model="form.setUpCode"
        label="Set-up code"
        hint="It is told where Tsumiki was started."
        :error="fields.setUpCode"
      />
      <div class="grid grid-cols-[1fr_6rem] gap-3">
        <UiTextField v-model="form.company" label="Company" :error="fields.company" /><UiTextField
          v-model="form.currency"
          label="Currency"
          :error="fields.currency"
        />
      </div>
      <UiTextField v-model="form.name" label="Your name" autocomplete="name" :error="fields.name" />
      <UiTextField
        v-model="form.email"
        label="Your e-mail address"
        type="email"
        autocomplete="username"
        :error="fields.email"
      />
      <UiTextField
        v-model="form.password"
        :label="`A password of at least ${LEAST_PASSWORD} characters`"
        hint="three or four words that have nothing to do with each other"
        type="password"
        autocomplete="new-password"
        :error="fields.password"
      />
      <UiProblem v-if="Object.keys(fields).length === 0" :text="detail" />
      <UiButton primary type="submit" :busy="busy">Begin</UiButton>
      <p class="text-fine text-soft">
        You become the first owner. The standard units, one workshop with a store shelf and a Monday-to-Friday week are
        laid out for you; all can be changed.
      </p>
    </form>
  </UiSheet>
</template>
