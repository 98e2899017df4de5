<script setup lang="ts">
defineProps<{
  invoices: readonly {
    id: number
    number: string
    invoicedOn: string
    amount: string
    delta: string
    cancelled: boolean
  }[]
}>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const notices = useNotices()
const { day, money } = usePrint()
const { busy, detail, run } = useAct()
async function cancel(id: number, number: string): Promise<void> {
  const done = await run((key) => $fetch(`/api/purchasing/invoices/${id}/cancel`, { method: 'POST', body: { key } }))
  if (!done) {
    return
  }
  notices.say({ kind: 'done', text: `Invoice ${number} is taken back.` })
  emit('changed')
}
</script>

<template>
  <UiSheet title="Invoices" flush>
    <UiProblem :text="detail" class="m-3" />
    <ul>
      <li
        v-for="invoice in invoices"
        :key="invoice.id"
        class="flex items-center justify-between gap-3 border-b border-line/60 px-4 py-2 last:border-0"
      >
        <span :class="invoice.cancelled && 'text-soft line-through'"
          ><b class="font-medium">{{ invoice.number }}</b> of {{ day(invoice.invoicedOn) }}, {{ money(invoice.amount)
          }}<span v-if="invoice.delta !== '0'" class="text-soft"
            >, {{ invoice.delta.startsWith('-') ? '' : '+' }}{{ money(invoice.delta) }} against the order</span
          ></span
        ><UiTag v-if="invoice.cancelled">taken back</UiTag
        ><UiButton v-else-if="session.allows('books')" small :busy="busy" @click="cancel(invoice.id, invoice.number)"
          >Take back</UiButton
        >
      </li>
    </ul>
  </UiSheet>
</template>
