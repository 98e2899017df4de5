<script setup lang="ts">
import { LEAST_PASSWORD } from '~~/shared/company/words'

const session = useSession()
const notices = useNotices()
const { clock } = usePrint()
const { data: own, error, refresh } = await useFetch('/api/company/me')
useHead({ title: 'Your sign-in · Tsumiki' })

const password = reactive({ current: '', password: '' })
const changing = useAct()
async function changePassword(): Promise<void> {
  const changed = await changing.run(() => $fetch('/api/company/me/password', { method: 'PUT', body: password }))
  if (!changed) {
    return
  }
  Object.assign(password, { current: '', password: '' })
  const others =
    changed.ended === 0
      ? ''
      : ` Your ${changed.ended} other ${plural(changed.ended, 'session is', 'sessions are')} ended.`
  notices.say({ kind: 'done', text: `Your password is changed.${others}` })
  await refresh()
}
const ending = useAct()
async function end(id: number): Promise<void> {
  if (await ending.run(() => $fetch<object>(`/api/company/me/sessions/${id}`, { method: 'DELETE' }))) {
    await refresh()
  }
}
async function endOthers(): Promise<void> {
  if (await ending.run(() => $fetch('/api/company/me/sessions', { method: 'DELETE' }))) {
    notices.say({ kind: 'done', text: 'You are signed in here only.' })
    await refresh()
  }
}
/** What a browser calls itself, as people know it. */
function browserName(text: string): string {
  const browser = /(Firefox|Edg|OPR|Chrome|Safari)\//.exec(text)?.[1]
  const names: Readonly<Record<string, string>> = { Edg: 'Edge', OPR: 'Opera' }
  const system = /(Windows|Android|iPhone|iPad|Mac OS|Linux)/.exec(text)?.[1]
  return [browser ? (names[browser] ?? browser) : 'A program', system && `on ${system}`].filter(Boolean).join(' ')
}
const others = computed(() => own.value?.sessions.filter((entry) => !entry.isThis).length ?? 0)
</script>

<template>
  <div class="mx-auto max-w-4xl">
    <UiHead :title="session.person?.name ?? ''" :summary="`${session.person?.email}, ${session.person?.role}`" />
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <div class="grid grid-cols-1 items-start gap-4 md:grid-cols-2">
      <UiSheet title="Password">
        <form class="grid gap-3" @submit.prevent="changePassword">
          <UiTextField
            v-model="password.current"
            label="Your password of now"
            type="password"
            autocomplete="current-password"
            :error="changing.fields.value.current"
          />
          <UiTextField
            v-model="password.password"
            :label="`A new one, of at least ${LEAST_PASSWORD} characters`"
            hint="three or four words that have nothing to do with each other"
            type="password"
            autocomplete="new-password"
            :error="changing.fields.value.password"
          />
          <UiProblem :text="Object.keys(changing.fields.value).length ? '' : changing.detail.value" />
          <UiButton class="justify-self-start" type="submit" :busy="changing.busy.value">Change the password</UiButton>
        </form>
      </UiSheet>
      <CompanySecondFactor v-if="own" :own="own" @changed="refresh" />
      <CompanyCalendarFeed v-if="own" :has-feed="own.hasFeed" @changed="refresh" />
      <UiSheet title="Where you are signed in" flush class="md:col-span-2">
        <template #head
          ><UiButton v-if="others" small :busy="ending.busy.value" @click="endOthers"
            >End the {{ others }} {{ plural(others, 'other', 'others') }}</UiButton
          ></template
        >
        <UiProblem :text="ending.detail.value" />
        <ul aria-label="Sessions">
          <li
            v-for="entry in own?.sessions"
            :key="entry.id"
            class="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line/60 px-4 py-2 last:border-0"
          >
            <b class="font-medium">{{ browserName(entry.browser) }}</b>
            <span class="text-soft"
              >{{ entry.address }}, since {{ clock(entry.begunAt) }}, last used {{ clock(entry.seenAt) }}</span
            >
            <span class="flex-1" />
            <UiTag v-if="entry.isThis" tone="good">here</UiTag>
            <UiButton
              v-else
              small
              :aria-label="`End the session of ${browserName(entry.browser)}`"
              @click="end(entry.id)"
              >End</UiButton
            >
          </li>
        </ul>
      </UiSheet>
    </div>
  </div>
</template>
