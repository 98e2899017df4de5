<script setup lang="ts">
import type { MailHead } from '~~/shared/company/mails'

const { clock, day } = usePrint()
const notices = useNotices()
const { data, error, refresh } = await useFetch<MailHead[]>('/api/company/mails')
const { busy, detail, run } = useAct()
async function sendAgain(id: number): Promise<void> {
  if (await run(() => $fetch<object>(`/api/company/mails/${id}`, { method: 'POST', body: {} }))) {
    notices.say({ kind: 'done', text: 'It is sent again.' })
    await refresh()
  }
}
const stateOf = ({ state, problem, passedOnAt }: MailHead): string => {
  if (state === 'sent') {
    return `sent ${clock(passedOnAt!)}`
  }
  return `${state === 'failed' ? 'could not be sent' : 'waits to be sent'}${problem ? `: ${problem}` : ''}`
}
const chosen = ref<number | null>(data.value?.[0]?.id ?? null)
const shown = computed(() => data.value?.find((point) => point.id === chosen.value) ?? null)
useHead({ title: 'Mailbox · Tsumiki' })
useKeys([
  { key: 'j', summary: 'the letter below', act: () => step(1) },
  { key: 'k', summary: 'the letter above', act: () => step(-1) },
])
function step(by: number): void {
  const list = data.value ?? []
  const index = list.findIndex((entry) => entry.id === chosen.value) + by
  if (list[index]) {
    chosen.value = list[index].id
  }
}
</script>

<template>
  <div>
    <UiHead title="Mailbox" summary="Letters to you. Without a mail server they stay here, as they would be sent." />
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet v-else-if="!data?.length"
      ><UiEmptyState
        title="No letters"
        summary="When something runs low, those who plan get a letter in the morning. Whether you get it is set in the Stockroom under Low stock."
        ><UiButton @click="navigateTo('/stock?tab=low')">Low stock</UiButton></UiEmptyState
      ></UiSheet
    >
    <div v-else class="grid grid-cols-1 md:grid-cols-[20rem_1fr] items-start gap-4">
      <UiSheet flush>
        <ul aria-label="Messages">
          <li v-for="mail in data" :key="mail.id" class="border-b border-line/60 last:border-0">
            <button
              type="button"
              class="block w-full px-4 py-2 text-left hover:bg-wash"
              :class="mail.id === chosen && 'bg-wash'"
              :aria-current="mail.id === chosen || undefined"
              @click="chosen = mail.id"
            >
              <b class="block font-medium">{{ mail.subject }}</b><span class="text-fine text-soft"
                >{{ day(mail.sentOn) }} · to {{ mail.to }}</span
              >
            </button>
          </li>
        </ul>
      </UiSheet>
      <UiSheet v-if="shown" :title="shown.subject">
        <template #head
          ><a :href="`/api/company/mails/${shown.id}`" class="text-soft underline" download>Save as .eml</a></template
        >
        <p class="mb-3 text-fine text-soft">
          {{ day(shown.sentOn) }} · to {{ shown.to
          }}<template v-if="shown.state !== 'kept'"> · {{ stateOf(shown) }}</template>
          <UiButton v-if="shown.state === 'failed'" small class="ml-2" :busy="busy" @click="sendAgain(shown.id)"
            >Send again</UiButton
          >
        </p>
        <UiProblem :text="detail" />
        <pre class="max-w-[80ch] font-sans whitespace-pre-wrap" data-test="letter">{{ shown.body }}</pre>
      </UiSheet>
    </div>
  </div>
</template>
