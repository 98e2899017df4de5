<script setup lang="ts">
import type { NamedAmount } from '~~/shared/purchasing/charges'
import type { OrderLine } from '~/components/demand/OrderLines.vue'

/** A purchase order that is changed, with what was typed kept as a draft beside the version that it was typed on. */
const props = defineProps<{
  order: {
    id: number
    number: string
    version: number
    supplierId: number
    siteId: number | null
    note: string
    paymentTerms: string
    deliveryTerms: string
    currency: string | null
    charges: readonly NamedAmount[]
    sentOn: string | null
  }
  /** Its lines as they are now. */
  lines: readonly OrderLine[]
}>()
const emit = defineEmits<{ saved: []; close: []; reload: [] }>()
const references = useReferences()
const notices = useNotices()
const session = useSession()
const { busy, detail, fields, code, run } = useAct()
const { note, siteId, paymentTerms, deliveryTerms, version } = props.order
const charges = props.order.charges.map((charge) => ({ ...charge }))
const form = reactive({ note, siteId, paymentTerms, deliveryTerms, charges, version })
const lines = ref<OrderLine[]>([...props.lines])
const draft = useDocumentDraft(`purchase order ${props.order.id}`, form, lines)
/** What a new line is due on: as the last of the others is. */
const dueOn = computed(() => lines.value.findLast((line) => line.dueOn)?.dueOn || session.today)

async function save(): Promise<void> {
  const body = {
    ...form,
    lines: lines.value.map((line) => ({
      id: line.id,
      itemId: line.itemId,
      quantity: line.quantity,
      unit: line.unit,
      price: line.price,
      discount: readNumber(line.discount ?? '', session.company?.decimalSign),
      dueOn: line.dueOn || dueOn.value,
    })),
  }
  if (!(await run(() => $fetch(`/api/purchasing/orders/${props.order.id}`, { method: 'PUT', body })))) {
    return
  }
  draft.discard()
  notices.say({
    kind: 'done',
    text: `${props.order.number} is changed.${props.order.sentOn ? ' Send the change to the supplier.' : ''}`,
  })
  void refreshToday()
  emit('saved')
}
function close(): void {
  draft.discard()
  emit('close')
}
function reload(): void {
  draft.discard()
  emit('reload')
}
</script>

<template>
  <form @submit.prevent="save()">
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem :text="Object.keys(fields).length ? '' : detail" class="mb-3" />
    <UiSheet title="Change the order" class="mb-4">
      <p v-if="order.sentOn" class="mb-3 text-soft">
        The supplier knows it as it was sent. Lines that are changed are no longer confirmed, and the change can be
        sent.
      </p>
      <div class="mb-4 grid grid-cols-1 gap-3 md:grid-cols-[14rem_1fr]">
        <UiChoice
          v-if="references.sites.length > 1"
          v-model="form.siteId"
          label="Deliver to"
          :options="references.choices(references.sites, form.siteId)"
          :error="fields.siteId"
        /><UiTextField v-model="form.note" label="Note" :error="fields.note" />
      </div>
      <DemandOrderLines v-model="lines" :fields="fields" :party-id="order.supplierId" :due-on="dueOn" prices="buying" />
      <PurchasingNamedAmounts v-model="form.charges" class="mt-4" :currency="order.currency" :fields="fields" />
      <PurchasingTerms v-model:payment="form.paymentTerms" v-model:delivery="form.deliveryTerms" :fields="fields" />
      <div class="mt-4 flex gap-2 border-t border-line pt-4">
        <UiButton primary type="submit" :busy="busy">Save the order</UiButton
        ><UiButton @click="close">Discard changes</UiButton
        ><UiButton v-if="code === 'stale-version'" @click="reload">Reload</UiButton>
      </div>
    </UiSheet>
  </form>
</template>
