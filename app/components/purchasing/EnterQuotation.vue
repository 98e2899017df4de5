<script setup lang="ts">
import type { QuotationRequest, QuotationRow } from '~~/shared/purchasing/quotations'
import { quotedBody, quotedForm, type QuotedForm } from '~/composables/purchasing/quoted-form'

/** What a supplier quotes, typed or read from the workbook that they filled in. */
const props = defineProps<{ request: QuotationRequest; quotation: QuotationRow }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const notices = useNotices()
const { asTyped } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const sign = computed(() => session.company?.decimalSign ?? '.')
const form = reactive({
  isDeclined: props.quotation.isDeclined,
  reference: props.quotation.reference,
  validUntil: props.quotation.validUntil ?? '',
  charges: props.quotation.charges.map((charge) => ({ ...charge })),
  note: props.quotation.note,
})
const lines = ref<QuotedForm[]>(
  props.request.lines.map((asked) =>
    quotedForm(
      asked,
      props.quotation.lines.find((line) => line.lineId === asked.id),
      asTyped,
    ),
  ),
)
/** Only lines with a price are quoted. */
const quoted = computed(() => lines.value.filter((line) => line.price !== ''))

const reading = useAct()
const faults = ref<readonly { readonly line: number; readonly detail: string }[]>([])
async function read(event: Event): Promise<void> {
  const chosen = event.target as HTMLInputElement
  const file = chosen.files?.[0]
  chosen.value = ''
  if (!file) {
    return
  }
  const content = await asBase64(file)
  const found = await reading.run(() =>
    $fetch(`/api/purchasing/quotations/${props.request.id}/read`, {
      method: 'POST',
      body: { supplierId: props.quotation.supplierId, fileName: file.name, content },
    }),
  )
  if (!found) {
    return
  }
  faults.value = found.faults
  form.isDeclined = false
  form.reference = found.reference || form.reference
  form.validUntil = found.validUntil ?? form.validUntil
  form.charges = found.charges.map((charge) => ({ ...charge }))
  lines.value = props.request.lines.map((asked, index) => {
    const read = found.lines.find((line) => line.lineId === asked.id)
    return read ? quotedForm(asked, read, asTyped) : lines.value[index]!
  })
}

async function record(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/purchasing/quotations/${props.request.id}/record`, {
      method: 'POST',
      body: {
        key,
        version: props.request.version,
        supplierId: props.quotation.supplierId,
        ...form,
        lines: form.isDeclined ? [] : quoted.value.map((line) => quotedBody(line, sign.value)),
      },
    }),
  )
  if (done) {
    notices.say({ kind: 'done', text: `What ${props.quotation.supplier} quotes is recorded.` })
    void refreshToday()
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    :title="`What ${quotation.supplier} quotes for ${request.number}`"
    act="Record the quotation"
    wide
    records
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="record"
  >
    <div class="mb-3 grid items-start gap-3 sm:grid-cols-[1fr_11rem_auto]">
      <UiTextField v-model="form.reference" label="The supplier’s number" :error="fields.reference" />
      <UiDateField v-model="form.validUntil" label="Prices hold until" :error="fields.validUntil" />
      <label
        class="beside-field inline-flex h-9 cursor-pointer items-center rounded-block border border-line bg-sheet px-3.5 font-medium focus-within:outline-2 focus-within:outline-ink hover:bg-wash pointer-coarse:min-h-[44px]"
        >Read their workbook<input type="file" class="sr-only" accept=".xlsx,.csv" @change="read"
      /></label>
    </div>
    <UiProblem :text="reading.detail.value" class="mb-3" />
    <ul v-if="faults.length" class="mb-3 text-brick" role="alert">
      <li v-for="fault in faults" :key="`${fault.line} ${fault.detail}`">Line {{ fault.line }}: {{ fault.detail }}</li>
    </ul>
    <UiCheckField v-model="form.isDeclined" class="mb-3" label="They do not quote" />
    <template v-if="!form.isDeclined">
      <UiLinesTable class="w-full" aria-label="Lines">
        <thead>
          <tr>
            <th class="text-left">Item</th>
            <th class="text-left">Price for one</th>
            <th class="text-left">Unit</th>
            <th class="text-left">Minimum</th>
            <th class="text-left">Steps of</th>
            <th class="text-left">Lead days</th>
            <th><span class="sr-only">More prices</span></th>
          </tr>
        </thead>
        <PurchasingQuotedLine
          v-for="(line, index) in lines"
          :key="line.lineId"
          v-model="lines[index]!"
          :asked="request.lines[index]!"
          :currency="quotation.currency"
          :fields="fields"
          :place="quoted.indexOf(line)"
        />
      </UiLinesTable>
      <p v-if="fields.lines" class="mt-1 text-fine text-brick" role="alert">{{ fields.lines }}</p>
      <PurchasingNamedAmounts
        v-model="form.charges"
        class="mt-4"
        :currency="quotation.currency"
        :fields="fields"
        summary="Asked once, whatever is taken; they are shared over the lines by value."
      />
    </template>
    <UiTextField v-model="form.note" class="mt-4" label="Note" :error="fields.note" />
  </UiDialog>
</template>
