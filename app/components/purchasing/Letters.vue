<script setup lang="ts">
import type { OrderLetter } from '~~/shared/purchasing/answers'

/** The letters that went out with an order, and how far each came. */
const props = defineProps<{ orderId: number; letters: readonly OrderLetter[] }>()
const emit = defineEmits<{ changed: [] }>()
const { day } = usePrint()
const session = useSession()
const { busy, detail, run } = useAct()
const SAID = {
  kept: 'in the mailbox here: no mail server is set',
  waiting: 'waits to be sent',
  sent: 'sent',
  failed: 'could not be sent',
} as const
async function again(letter: OrderLetter): Promise<void> {
  if (await run(() => $fetch(`/api/purchasing/orders/${props.orderId}/letters/${letter.id}`, { method: 'POST' }))) {
    emit('changed')
  }
}
</script>

<template>
  <UiSheet title="Letters">
    <UiProblem :text="detail" class="mb-2" />
    <ul>
      <li
        v-for="letter in letters"
        :key="letter.id"
        class="flex flex-wrap items-center gap-x-3 border-b border-line/60 py-1.5 last:border-0"
      >
        <span class="w-24 text-soft">{{ day(letter.sentOn) }}</span>
        <span class="min-w-0 flex-1"
          >{{ letter.subject }} <span class="text-soft">to {{ letter.to }}</span></span
        >
        <span :class="letter.state === 'failed' ? 'text-brick' : 'text-soft'"
          >{{ SAID[letter.state] }}{{ letter.problem ? `: ${letter.problem}` : '' }}</span
        >
        <UiButton v-if="letter.state === 'failed' && session.allows('buy')" small :busy="busy" @click="again(letter)"
          >Send again</UiButton
        >
      </li>
    </ul>
  </UiSheet>
</template>
