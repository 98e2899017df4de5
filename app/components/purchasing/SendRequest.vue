<script setup lang="ts">
import type { QuotationRequest, QuotationRow } from '~~/shared/purchasing/quotations'

/** Asks suppliers for their quotations, or reminds them: one letter, read and changed before it goes to each of them. */
const props = defineProps<{
  request: QuotationRequest
  suppliers: readonly QuotationRow[]
  isReminder: boolean
}>()
const emit = defineEmits<{ close: []; done: [] }>()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  subject: '',
  text: '',
  letters: props.suppliers.map(({ supplierId, email }) => ({ supplierId, to: email })),
})
const reading = useAct()
onMounted(async () => {
  const letter = await reading.run(() =>
    $fetch(`/api/purchasing/quotations/${props.request.id}/letter`, {
      query: { reminder: props.isReminder ? 'yes' : '' },
    }),
  )
  Object.assign(form, letter)
})
const API = `/api/purchasing/quotations/${props.request.id}`

async function send(): Promise<void> {
  const done = await run((key) =>
    $fetch<{ sent: number }>(`${API}/send`, { method: 'POST', body: { key, version: props.request.version, ...form } }),
  )
  if (done) {
    notices.say({ kind: 'done', text: `${done.sent} ${plural(done.sent, 'letter is', 'letters are')} on the way.` })
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="isReminder ? `Remind of ${request.number}` : `Send ${request.number}`"
    :act="isReminder ? 'Send the reminder' : `Send to ${suppliers.length}`"
    wide
    records
    :busy="busy || reading.busy.value"
    :problem="reading.detail.value || (Object.keys(fields).length ? '' : detail)"
    @act="send"
  >
    <div class="grid grid-cols-1 gap-3">
      <div v-for="(supplier, index) in suppliers" :key="supplier.supplierId" class="flex items-end gap-3">
        <UiTextField
          v-model="form.letters[index]!.to"
          class="min-w-0 flex-1"
          :label="`To ${supplier.supplier}`"
          :error="fields[`letters.${index}.to`]"
        />
        <span class="mb-1.5 text-fine whitespace-nowrap text-soft"
          ><a :href="`${API}/print?supplier=${supplier.supplierId}`" target="_blank" class="underline">PDF</a> and
          <a :href="`${API}/workbook?supplier=${supplier.supplierId}`" class="underline">workbook</a></span
        >
      </div>
      <UiTextField v-model="form.subject" label="Subject" :error="fields.subject" />
      <UiTextField v-model="form.text" label="Letter" :lines="11" :error="fields.text" />
    </div>
  </UiDialog>
</template>
