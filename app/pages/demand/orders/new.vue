<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { OrderLine } from '~/components/demand/OrderLines.vue'

const references = useReferences()
const notices = useNotices()
const form = reactive({
  customerId: null as number | null,
  dueOn: '',
  note: '',
  siteId: null as number | null,
  priority: '0',
})
const lines = ref<OrderLine[]>([
  { id: null, itemId: null, shown: null, measured: null, quantity: '', unit: 'piece', price: '0' },
])
const draft = useDocumentDraft('sales-order', form, lines)
const { busy, detail, fields, effects, run, clear } = useAct()
const adding = ref(false)
const swaps = ref(0)

useHead({ title: 'New sales order · Tsumiki' })

/** Another item in place of the one asked for, for the same quantity. */
function swap(position: number, item: ItemName): void {
  const line = lines.value[position]!
  swaps.value++
  lines.value = lines.value.map((entry, index) =>
    index === position ? { ...line, itemId: item.id, shown: item, measured: null, said: undefined } : entry,
  )
}
async function leave(): Promise<void> {
  draft.discard()
  await navigateTo('/demand')
}
async function save(confirmed = false): Promise<void> {
  const body = {
    ...form,
    confirmed,
    lines: lines.value.map(({ id, itemId, quantity, unit, price }) => ({ id, itemId, quantity, unit, price })),
  }
  const made = await run((key) => $fetch('/api/demand/orders', { method: 'POST', body: { key, ...body } }))
  if (!made) {
    return
  }
  draft.discard()
  notices.say({ kind: 'done', text: `${made.number} is entered.` })
  void refreshToday()
  await navigateTo(`/demand/orders/${made.id}`)
}
</script>

<template>
  <form @submit.prevent="save()">
    <UiHead title="New sales order"
      ><UiButton @click="leave">Cancel</UiButton
      ><UiButton primary type="submit" :busy="busy">Enter the order</UiButton></UiHead
    >
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem :text="Object.keys(fields).length || effects.length ? '' : detail" class="mb-3" />
    <UiSheet>
      <div class="mb-5 grid grid-cols-1 md:grid-cols-[20rem_12rem_1fr] gap-3">
        <div class="flex items-start gap-1">
          <UiPartnerField
            v-model="form.customerId"
            kind="customer"
            class="min-w-0 flex-1"
            label="Customer"
            :error="fields.customerId"
          /><UiButton class="beside-field" aria-label="Add a customer" @click="adding = true">+</UiButton>
        </div>
        <UiDateField v-model="form.dueOn" label="Due on" :error="fields.dueOn" />
        <UiTextField v-model="form.note" label="Note" :error="fields.note" />
        <UiChoice
          v-if="references.sites.length > 1"
          v-model="form.siteId"
          label="Filled from"
          empty="The customer’s site"
          :options="references.choices(references.sites)"
          :error="fields.siteId"
        /><UiTextField
          v-model="form.priority"
          label="Priority"
          right
          :error="fields.priority"
          hint="the higher, the sooner served"
        />
      </div>
      <DemandOrderLines :key="swaps" v-model="lines" :fields="fields" :party-id="form.customerId" prices="selling" />
    </UiSheet>
    <DemandPromise class="mt-4" :lines="lines" :due-on="form.dueOn" swaps @swap="swap" @use="form.dueOn = $event" />
    <UiNeedsYes
      v-if="effects.length > 0"
      title="Prices outside what is allowed"
      act="Enter the order all the same"
      :effects="effects"
      :busy="busy"
      @confirm="save(true)"
      @leave="clear"
      >The order keeps that this was said yes to.</UiNeedsYes
    >
    <CatalogueQuickAdd
      v-if="adding"
      kind="customers"
      @done="
        (id) => {
          form.customerId = id
          adding = false
        }
      "
      @close="adding = false"
    />
  </form>
</template>
