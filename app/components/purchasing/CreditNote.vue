<script setup lang="ts">
/** What the supplier gives back of what was invoiced for goods that are kept. */
const props = defineProps<{
  order: {
    id: number
    number: string
    supplier: string
    currency: string | null
    lines: readonly { id: number; itemId: number; code: string; name: string }[]
    invoiced: readonly { lineId: number; amount: string }[]
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const notices = useNotices()
const { money } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ number: '', invoicedOn: session.today })
const rows = reactive(
  props.order.invoiced.map((invoiced) => ({
    line: props.order.lines.find((line) => line.id === invoiced.lineId)!,
    invoiced: invoiced.amount,
    amount: '',
  })),
)
const given = computed(() => rows.filter((row) => row.amount.trim() !== ''))
const wrongOf = (row: (typeof rows)[number]): string | undefined =>
  fields.value[`lines.${given.value.indexOf(row)}.amount`]
async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/purchasing/orders/${props.order.id}/credit`, {
      method: 'POST',
      body: { key, ...form, lines: given.value.map((row) => ({ lineId: row.line.id, amount: row.amount })) },
    }),
  )
  if (!done) {
    return
  }
  const passed = done.revalued.filter(
    (entry) => entry.account !== 'accounts payable' && entry.account !== 'goods received not invoiced',
  )
  notices.say({
    kind: 'done',
    text: `Credit note ${form.number} is entered. It changed ${passed.map((entry) => `${entry.account} by ${money(entry.amount)}`).join(', ')}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`Credit note for ${order.number}, ${order.supplier}`"
    act="Enter the credit note"
    :busy="busy"
    :disabled="given.length === 0 || !form.number.trim()"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="mb-3 flex flex-wrap items-start gap-3">
      <UiTextField v-model="form.number" class="w-56" label="Credit note number" :error="fields.number" /><UiDateField
        v-model="form.invoicedOn"
        class="w-44"
        label="Its date"
        :error="fields.invoicedOn ?? fields.effectiveOn"
      />
    </div>
    <div
      v-for="row in rows"
      :key="row.line.id"
      class="grid grid-cols-1 items-start gap-3 border-t border-line py-3 md:grid-cols-[1fr_10rem]"
    >
      <span
        ><b class="font-semibold">{{ row.line.code }}</b> <span class="text-soft">{{ row.line.name }}</span><span
          class="block text-fine text-soft"
          >{{ money(row.invoiced) }} invoiced</span
        ></span
      >
      <UiMoneyField
        v-model="row.amount"
        :currency="order.currency"
        :label="`Given back for ${row.line.code}`"
        :error="wrongOf(row)"
      />
    </div>
    <p class="mt-2 text-soft">
      These goods are kept, and cost so much less: what is in stock, what was built from them and what was sold
      meanwhile are re-valued.
    </p>
  </UiDialog>
</template>
