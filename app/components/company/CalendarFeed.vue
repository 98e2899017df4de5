<script setup lang="ts">
const props = defineProps<{ hasFeed: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const notices = useNotices()
const { busy, detail, run } = useAct()
/** The address, shown this once. */
const address = ref('')
async function make(): Promise<void> {
  const made = await run(() => $fetch('/api/company/me/calendar', { method: 'POST', body: {} }))
  if (made) {
    address.value = made.address
    emit('changed')
  }
}
async function end(): Promise<void> {
  if (await run(() => $fetch('/api/company/me/calendar', { method: 'DELETE' }))) {
    address.value = ''
    notices.say({ kind: 'done', text: 'The address opens nothing any more.' })
    emit('changed')
  }
}
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(address.value)
  notices.say({ kind: 'done', text: 'The address is copied.' })
}
</script>

<template>
  <UiSheet title="What is due, in your calendar" class="md:col-span-2">
    <p class="mb-3 max-w-[80ch]">
      A calendar program that reads this address shows the orders, receipts and builds that are due. Whoever has it
      reads them without signing in: keep it to yourself.
    </p>
    <UiProblem :text="detail" class="mb-3" />
    <p v-if="address" class="mb-3 rounded-block border border-line bg-wash p-2 break-all select-all" data-test="feed">
      {{ address }}
    </p>
    <div class="flex flex-wrap gap-2">
      <UiButton v-if="address" @click="copy">Copy the address</UiButton>
      <UiButton :busy="busy" @click="make">{{ props.hasFeed ? 'Make a new address' : 'Make an address' }}</UiButton>
      <UiButton v-if="props.hasFeed" :busy="busy" @click="end">End it</UiButton>
    </div>
  </UiSheet>
</template>
