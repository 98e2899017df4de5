<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import type { HookCallRow, HookRow } from '~~/shared/running/answers'

const AGAIN = 3000
const props = defineProps<{ hook: HookRow }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const notices = useNotices()
const { clock } = usePrint()
const { data, error, refresh } = await useFetch<HookCallRow[]>(() => `/api/running/hooks/${props.hook.id}/calls`)
useIntervalFn(() => void refresh(), AGAIN)
const { detail, run } = useAct()
async function again(call: HookCallRow): Promise<void> {
  const path = `/api/running/hooks/${props.hook.id}/calls/${call.id}`
  if (await run(() => $fetch<object>(path, { method: 'POST', body: {} }))) {
    notices.say({ kind: 'done', text: 'It is sent again.' })
    await refresh()
    emit('changed')
  }
}
const said = ({ state, tries, problem, deliveredAt }: HookCallRow): string => {
  if (state === 'delivered') {
    return `delivered ${clock(deliveredAt!)}${tries > 1 ? ` at try ${tries}` : ''}`
  }
  const after = tries > 0 ? `after ${tries} ${tries === 1 ? 'try' : 'tries'}` : ''
  return `${state === 'failed' ? 'given up' : 'waits'} ${after}. ${problem}`
}
</script>

<template>
  <UiSideSheet :title="`Calls of ${hook.name}`" @close="emit('close')">
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiProblem :text="detail" />
    <p v-if="data?.length === 0" class="text-soft">It was not told of anything yet.</p>
    <ul aria-label="Calls" class="divide-y divide-line/60">
      <li v-for="call in data" :key="call.id" class="flex items-start justify-between gap-3 py-2">
        <span>
          <b class="font-medium">{{ call.event }}</b> {{ call.about }}
          <span class="block text-fine text-soft">{{ clock(call.at) }} · {{ said(call) }}</span>
        </span>
        <UiButton
          v-if="call.state !== 'waiting'"
          small
          :aria-label="`Send again: ${call.event} ${call.about}`"
          @click="again(call)"
          >Send again</UiButton
        >
      </li>
    </ul>
  </UiSideSheet>
</template>
