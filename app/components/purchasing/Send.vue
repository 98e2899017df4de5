<script setup lang="ts">
/** Sends an order to its supplier: the letter is read, and changed where it should say something else, before it goes. */
const props = defineProps<{ order: { id: number; number: string; version: number; supplier: string } }>()
const emit = defineEmits<{ close: []; done: [] }>()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ to: '', subject: '', text: '' })
const reading = useAct()
onMounted(async () => {
  Object.assign(form, await reading.run(() => $fetch(`/api/purchasing/orders/${props.order.id}/letter`)))
})

async function send(): Promise<void> {
  const sent = await run((key) =>
    $fetch(`/api/purchasing/orders/${props.order.id}/send`, {
      method: 'POST',
      body: { key, version: props.order.version, ...form },
    }),
  )
  if (!sent) {
    return
  }
  notices.say({ kind: 'done', text: `${props.order.number} is on its way to ${props.order.supplier}.` })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`Send ${order.number} to ${order.supplier}`"
    act="Send the order"
    wide
    records
    :busy="busy || reading.busy.value"
    :problem="reading.detail.value || (Object.keys(fields).length ? '' : detail)"
    @act="send"
  >
    <div class="grid grid-cols-1 gap-3">
      <UiTextField v-model="form.to" label="To" :error="fields.to" />
      <UiTextField v-model="form.subject" label="Subject" :error="fields.subject" />
      <UiTextField v-model="form.text" label="Letter" :lines="12" :error="fields.text" />
      <p class="text-fine text-soft">
        Along go the order as
        <a :href="`/api/purchasing/orders/${order.id}/print`" target="_blank" class="underline">PDF</a> and as
        <a :href="`/api/purchasing/orders/${order.id}/ubl`" class="underline">UBL 2.1 (XML)</a>, which the supplier’s
        program can read.
      </p>
    </div>
  </UiDialog>
</template>
