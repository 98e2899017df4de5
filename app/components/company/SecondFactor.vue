<script setup lang="ts">
import type { OwnSignIn } from '~~/shared/company/people'

/** A second factor: an app on the phone shows six digits that are asked for at each sign-in (RFC 6238). */
const props = defineProps<{ own: OwnSignIn }>()
const emit = defineEmits<{ changed: [] }>()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const password = ref('')
const code = ref('')
/** The key that waits for its first code. */
const begun = ref<{ key: string; picture: string } | null>(null)
const codes = ref<readonly string[]>([])
const picture = computed(() => `data:image/svg+xml;utf8,${encodeURIComponent(begun.value?.picture ?? '')}`)

async function begin(): Promise<void> {
  begun.value = await run(() =>
    $fetch('/api/company/me/factor', { method: 'POST', body: { password: password.value } }),
  )
  if (begun.value) {
    password.value = ''
  }
}
async function confirm(): Promise<void> {
  const confirmed = await run(() => $fetch('/api/company/me/factor', { method: 'PUT', body: { code: code.value } }))
  if (!confirmed) {
    return
  }
  codes.value = confirmed.codes
  begun.value = null
  code.value = ''
  notices.say({ kind: 'done', text: 'The second factor is on.' })
  emit('changed')
}
async function takeOff(): Promise<void> {
  if (await run(() => $fetch('/api/company/me/factor', { method: 'DELETE', body: { password: password.value } }))) {
    password.value = ''
    codes.value = []
    notices.say({ kind: 'done', text: 'The second factor is off.' })
    emit('changed')
  }
}
const spaced = (key: string): string => key.replaceAll(/(.{4})/g, '$1 ').trim()
</script>

<template>
  <UiSheet title="Second factor">
    <div v-if="codes.length" class="mb-3">
      <p class="mb-2">
        Keep these recovery codes where your phone is not. Each lets you in once without it; they are shown only now.
      </p>
      <ul class="columns-2 rounded-block border border-line bg-wash p-3 font-mono" aria-label="Recovery codes">
        <li v-for="entry in codes" :key="entry">{{ entry }}</li>
      </ul>
    </div>
    <form v-if="begun" class="grid gap-3" @submit.prevent="confirm">
      <p>Scan this with an app for one-time codes, or type the key into it. Then type the six digits that it shows.</p>
      <img :src="picture" alt="The key as a code to scan" class="size-44 rounded-block bg-white p-2" />
      <p class="font-mono break-all" data-test="factor-key">{{ spaced(begun.key) }}</p>
      <UiTextField v-model="code" label="Code" autocomplete="one-time-code" :error="fields.code" />
      <UiProblem :text="Object.keys(fields).length ? '' : detail" />
      <UiButton primary class="justify-self-start" type="submit" :busy="busy">Put it on</UiButton>
    </form>
    <form v-else class="grid gap-3" @submit.prevent="props.own.hasFactor ? takeOff() : begin()">
      <p v-if="own.hasFactor">
        It is on: each sign-in asks for the code of your app. {{ own.recoveryCodes }} recovery
        {{ plural(own.recoveryCodes, 'code is', 'codes are') }} left.
      </p>
      <p v-else class="text-soft">
        With it, your password alone lets nobody in: an app on your phone shows a code that is asked for as well.
      </p>
      <UiTextField
        v-model="password"
        label="Your password"
        type="password"
        autocomplete="current-password"
        :error="fields.password"
      />
      <UiProblem :text="Object.keys(fields).length ? '' : detail" />
      <UiButton class="justify-self-start" type="submit" :busy="busy">{{
        own.hasFactor ? 'Take it off' : 'Put a second factor on'
      }}</UiButton>
    </form>
  </UiSheet>
</template>
