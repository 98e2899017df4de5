<script setup lang="ts">
import { majorText } from '~~/core/money'
import type { ReturnRow } from '~~/shared/purchasing/answers'

/** What went back to the supplier, and what they gave for it. */
const props = defineProps<{ returns: readonly ReturnRow[]; currency: string | null }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const notices = useNotices()
const { day, money, asTyped } = usePrint()
const { busy, detail, fields, run } = useAct()
const crediting = ref<ReturnRow | null>(null)
const form = reactive({ number: '', invoicedOn: session.today, amount: '' })
const open = computed({
  get: () => crediting.value !== null,
  set: () => {
    crediting.value = null
  },
})
function begin(row: ReturnRow): void {
  crediting.value = row
  form.number = ''
  // What is expected is known in the company’s currency only.
  form.amount = row.expected === null || props.currency ? '' : asTyped(majorText(row.expected))
}
async function act(path: string, body: object, said: string): Promise<void> {
  if (await run((key) => $fetch(path, { method: 'POST', body: { key, ...body } }))) {
    crediting.value = null
    notices.say({ kind: 'done', text: said })
    emit('changed')
  }
}
const state = (row: ReturnRow): string => {
  if (row.isReversed) {
    return 'taken back'
  }
  if (row.settled?.kind === 'credit note') {
    const amount = row.settled.amount === null ? '' : `: ${money(row.settled.amount)}`
    return `credit note ${row.settled.number}${amount}`
  }
  if (row.settled) {
    return row.settled.kind === 'replacement' ? 'replaced' : 'not invoiced'
  }
  const expected = row.expected === null ? '' : `, ${money(row.expected)}`
  return row.expects === 'credit' ? `credit note expected${expected}` : 'replacement expected'
}
</script>

<template>
  <UiSheet title="Returned" flush>
    <UiProblem :text="crediting ? '' : detail" class="m-3" />
    <ul>
      <li
        v-for="row in returns"
        :key="row.id"
        class="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-line/60 px-4 py-2 last:border-0"
      >
        <span class="min-w-0 flex-1" :class="row.isReversed && 'text-soft line-through'"
          ><b class="font-medium">{{ row.number }}</b> {{ day(row.returnedOn) }}:
          <UiQty :of="row.quantity" :unit="row.symbol" /> {{ row.code
          }}<span class="text-soft"
            >, {{ row.reason }}{{ row.reference && `, their number ${row.reference}` }}</span
          ></span
        >
        <span :class="row.settled || row.isReversed ? 'text-soft' : 'font-medium'">{{ state(row) }}</span>
        <a
          v-if="!row.isReversed"
          :href="`/api/purchasing/returns/${row.id}/print`"
          target="_blank"
          class="text-soft underline"
          :aria-label="`Print the note of ${row.number}`"
          >Print</a
        >
        <template v-if="session.allows('books') && !row.isReversed">
          <UiButton
            v-if="row.settled && row.settled.kind !== 'not invoiced'"
            small
            :busy="busy"
            @click="
              act(`/api/purchasing/invoices/${row.settled.id}/cancel`, {}, `What settled ${row.number} is taken back.`)
            "
            >Take back</UiButton
          >
          <UiButton v-else-if="!row.settled && row.expects === 'credit'" small @click="begin(row)"
            >Enter the credit note</UiButton
          >
          <UiButton
            v-else-if="!row.settled"
            small
            :busy="busy"
            @click="act(`/api/purchasing/returns/${row.id}/replaced`, {}, `${row.number} is replaced.`)"
            >It was replaced</UiButton
          >
        </template>
        <UiButton
          v-if="session.allows('receive') && !row.isReversed && (!row.settled || row.settled.kind === 'not invoiced')"
          small
          :busy="busy"
          @click="
            act(`/api/stock/postings/${row.postingId}/reverse`, {}, `${row.number} is taken back: the goods are here.`)
          "
          >Reverse</UiButton
        >
      </li>
    </ul>
    <UiDialog
      v-model="open"
      records
      :title="`Credit note for ${crediting?.number}`"
      act="Enter the credit note"
      :busy="busy"
      :disabled="!form.number.trim() || !form.amount.trim()"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="act(`/api/purchasing/returns/${crediting!.id}/credit`, form, `Credit note ${form.number} is entered.`)"
    >
      <div class="grid grid-cols-1 gap-3 sm:grid-cols-3">
        <UiTextField v-model="form.number" label="Credit note number" :error="fields.number" />
        <UiDateField v-model="form.invoicedOn" label="Its date" :error="fields.invoicedOn ?? fields.effectiveOn" />
        <UiMoneyField v-model="form.amount" :currency="currency" label="Its amount" :error="fields.amount" />
      </div>
      <p class="mt-3 text-soft">
        The account of returns holds what the goods cost here; what the credit note gives less or more stays on it.
      </p>
    </UiDialog>
  </UiSheet>
</template>
