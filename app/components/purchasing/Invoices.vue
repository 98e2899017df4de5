<script setup lang="ts">
import type { InvoiceRow } from '~~/shared/purchasing/answers'

defineProps<{ invoices: readonly InvoiceRow[]; supplier: string }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const notices = useNotices()
const { day, money } = usePrint()
const { busy, detail, run } = useAct()
async function cancel({ id, kind, number }: InvoiceRow): Promise<void> {
  const done = await run((key) => $fetch(`/api/purchasing/invoices/${id}/cancel`, { method: 'POST', body: { key } }))
  if (!done) {
    return
  }
  notices.say({ kind: 'done', text: `${kind === 'invoice' ? 'Invoice' : 'Credit note'} ${number} is taken back.` })
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
          ><template v-if="invoice.kind === 'credit note'">Credit note </template
          ><b class="font-medium">{{ invoice.number }}</b
          ><template v-if="invoice.supplier !== supplier">{{ ` of ${invoice.supplier}` }}</template> of
          {{ day(invoice.invoicedOn) }}, {{ money(invoice.amount)
          }}<span v-if="invoice.charges.length" class="text-soft">{{
            `, of it ${invoice.charges.map((charge) => `${charge.name} ${money(charge.amount)} by ${charge.by}`).join(', ')}`
          }}</span
          ><span v-if="invoice.delta !== '0' && invoice.kind === 'invoice'" class="text-soft"
            >, {{ invoice.delta.startsWith('-') ? '' : '+' }}{{ money(invoice.delta) }} against the order</span
          ></span
        ><UiTag v-if="invoice.cancelled">taken back</UiTag
        ><UiButton v-else-if="session.allows('books')" small :busy="busy" @click="cancel(invoice)">Take back</UiButton>
      </li>
    </ul>
  </UiSheet>
</template>
