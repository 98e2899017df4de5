<script setup lang="ts">
import type { Check } from '~~/shared/running/answers'

const notices = useNotices()
const { data, error, refresh } = await useFetch<Check[]>('/api/running/checks')
const { busy, detail, run } = useAct()
const WORDS = { good: 'in order', look: 'look at it', bad: 'not in order' } as const
const TONES = { good: 'good', look: 'plain', bad: 'problem' } as const
const open = computed(() => (data.value ?? []).filter(({ state }) => state !== 'good').length)

async function checkLedger(): Promise<void> {
  if (await run(() => $fetch<object>('/api/running/checks/ledger', { method: 'POST', body: {} }))) {
    notices.say({ kind: 'done', text: 'The ledger is worked out again; what comes of it stands here.' })
  }
}
</script>

<template>
  <UiSheet :title="open === 0 ? 'Everything is in order' : `${open} of ${data?.length ?? 0} to look at`">
    <template #head
      ><span class="flex gap-2"
        ><UiButton small :busy="busy" @click="checkLedger">Check the ledger</UiButton
        ><UiButton small @click="refresh()">Look again</UiButton></span
      ></template
    >
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiProblem :text="detail" />
    <ul aria-label="Checks" class="divide-y divide-line/60">
      <li v-for="check in data" :key="check.name" class="flex flex-wrap items-baseline gap-x-3 gap-y-1 py-2">
        <b class="w-56 font-medium">{{ check.name }}</b>
        <span class="w-24"
          ><UiTag :tone="TONES[check.state]">{{ WORDS[check.state] }}</UiTag></span
        >
        <span class="min-w-0 flex-1 basis-64"
          >{{ check.said }}
          <span v-if="check.remedy" class="block font-medium">{{ check.remedy }}</span>
        </span>
      </li>
    </ul>
  </UiSheet>
</template>
