<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import type { NamedAmount } from '~~/shared/purchasing/charges'
import type { TermsConcern } from '~~/shared/purchasing/answers'
import type { OrderLine } from '~/components/demand/OrderLines.vue'

const references = useReferences()
const session = useSession()
const notices = useNotices()
const asked = useRoute().query
const form = reactive({
  supplierId: Number(asked.supplier) || null,
  // What is wanted since yesterday can come today at the soonest.
  dueOn: [String(asked.due ?? ''), session.today].sort().at(-1)!,
  note: '',
  number: '',
  charges: [] as NamedAmount[],
  paymentTerms: '',
  deliveryTerms: '',
  siteId: Number(asked.site) === references.sites.find((site) => !site.retired)?.id ? null : Number(asked.site) || null,
})
const begun = linesToOrder().map(({ itemId, code, name, quantity }): OrderLine => ({
  id: null,
  itemId,
  shown: { id: itemId, code, name },
  measured: null,
  quantity,
  unit: 'piece',
  price: '0',
}))
const lines = ref<OrderLine[]>(
  begun.length > 0
    ? begun
    : [{ id: null, itemId: null, shown: null, measured: null, quantity: '', unit: 'piece', price: '0' }],
)
const draft = useDocumentDraft('purchase-order', form, lines, begun.length === 0 && Object.keys(asked).length === 0)
const { busy, detail, fields, run } = useAct()
const adding = ref(false)
const { wentBack, leaving } = useReturnPath()
const sites = computed(() => references.sites.filter((site) => !site.retired))
useHead({ title: 'New purchase order · Tsumiki' })

/** A line’s own day, else that of the order. */
const dueOf = (line: Pick<OrderLine, 'dueOn'>): string => line.dueOn || form.dueOn
const { asTyped } = usePrint()
const concerns = ref<TermsConcern[]>([])
const whole = computed(() => lines.value.filter((line) => line.itemId !== null && line.quantity.trim() !== ''))
const checking = useAct({ latest: true })
watchDebounced(
  () => [form.supplierId, whole.value.map((line) => [line.itemId, line.quantity, line.unit, dueOf(line)])],
  async () => {
    const found =
      form.supplierId === null || whole.value.length === 0
        ? []
        : await checking.run(() =>
            $fetch('/api/purchasing/orders/check', {
              method: 'POST',
              body: {
                supplierId: form.supplierId,
                lines: whole.value.map((line) => ({ ...bodyOf(line), price: '0' })),
              },
            }),
          )
    concerns.value = found ?? []
  },
  { debounce: 250, deep: true, immediate: true },
)
function take({ line, right }: TermsConcern): void {
  if (right && 'dueOn' in right) {
    whole.value[line]!.dueOn = right.dueOn
  } else if (right) {
    Object.assign(whole.value[line]!, { quantity: asTyped(right.quantity), unit: right.unit })
  }
}
const bodyOf = ({ itemId, quantity, unit, price, discount = '', dueOn }: OrderLine) => ({
  itemId,
  quantity,
  unit,
  price,
  discount: readNumber(discount, session.company?.decimalSign),
  dueOn: dueOf({ dueOn }),
})

async function leave(): Promise<void> {
  draft.discard()
  await navigateTo('/purchasing')
}
async function save(): Promise<void> {
  if (leaving.value) {
    return
  }
  const body = {
    supplierId: form.supplierId,
    siteId: form.siteId,
    note: form.note,
    number: form.number,
    charges: form.charges,
    paymentTerms: form.paymentTerms,
    deliveryTerms: form.deliveryTerms,
    lines: lines.value.map(bodyOf),
  }
  const made = await run((key) => $fetch('/api/purchasing/orders', { method: 'POST', body: { key, ...body } }))
  if (!made) {
    return
  }
  draft.discard()
  notices.say({ kind: 'done', text: `${made.number} is entered.` })
  if (!(await wentBack())) {
    await navigateTo(`/purchasing/${made.id}`)
  }
}
</script>

<template>
  <form @submit.prevent="save">
    <UiHead title="New purchase order"
      ><UiButton @click="leave">Cancel</UiButton
      ><UiButton primary type="submit" :busy="busy || leaving">Enter the order</UiButton></UiHead
    >
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem :text="Object.keys(fields).length ? '' : detail" class="mb-3" />
    <UiSheet>
      <div
        class="mb-5 grid gap-3"
        :class="
          sites.length > 1
            ? 'grid-cols-1 md:grid-cols-[20rem_11rem_12rem_9rem_1fr]'
            : 'grid-cols-1 md:grid-cols-[20rem_11rem_9rem_1fr]'
        "
      >
        <div class="flex items-start gap-1">
          <UiPartnerField
            v-model="form.supplierId"
            kind="supplier"
            class="min-w-0 flex-1"
            label="Supplier"
            :error="fields.supplierId"
          /><UiButton class="beside-field" aria-label="Add a supplier" @click="adding = true">+</UiButton>
        </div>
        <UiDateField v-model="form.dueOn" label="Due date" hint="of lines that have none of their own" />
        <UiChoice
          v-if="sites.length > 1"
          v-model="form.siteId"
          label="Deliver to"
          :empty="sites[0]!.name"
          :error="fields.siteId"
          :options="sites.slice(1).map((site) => ({ value: site.id, name: site.name }))"
        />
        <UiTextField v-model="form.number" label="Number" placeholder="the next" :error="fields.number" />
        <UiTextField v-model="form.note" label="Note" :error="fields.note" />
      </div>
      <DemandOrderLines
        v-model="lines"
        :fields="fields"
        :party-id="form.supplierId"
        :due-on="form.dueOn"
        prices="buying"
      />
      <PurchasingNamedAmounts
        v-model="form.charges"
        class="mt-4"
        :currency="references.currencyOf(form.supplierId)"
        :fields="fields"
        summary="They stand on the order, and are proposed with its invoice."
      />
      <PurchasingTerms v-model:payment="form.paymentTerms" v-model:delivery="form.deliveryTerms" :fields="fields" />
      <PurchasingConcerns :concerns="concerns" @take="take" />
    </UiSheet>
    <CatalogueQuickAdd
      v-if="adding"
      kind="suppliers"
      @done="
        (id) => {
          form.supplierId = id
          adding = false
        }
      "
      @close="adding = false"
    />
  </form>
</template>
