<script setup lang="ts">
import { X } from '@lucide/vue'
import { refDebounced } from '@vueuse/core'
import { SPREADS, type Spread } from '~~/core/invoicing'
import type { ChargedGoods, ReceivedGoods } from '~~/shared/purchasing/answers'

export interface Charge {
  name: string
  amount: string
  by: Spread
}
/**
 * Charges of an invoice, the receipts that they are spread over, and what of them falls on each. `invoice`: what else
 * of it counts for that.
 */
const props = defineProps<{
  orderId: number
  currency: string | null
  invoice: { readonly invoicedOn: string; readonly supplierId: number | null; readonly lines: readonly object[] }
  fields: Record<string, string>
  /** One is there from the beginning, and stays. */
  isAlone?: boolean
}>()
const charges = defineModel<Charge[]>({ required: true })
const moveIds = defineModel<number[]>('moveIds', { required: true })
const { money, day } = usePrint()
const SAYS: Readonly<Record<Spread, string>> = {
  value: 'by value',
  quantity: 'by quantity',
  mass: 'by mass',
  volume: 'by volume',
}
const fallen = ref<readonly ChargedGoods[]>([])
const trying = useAct()
const offered = ref<readonly ReceivedGoods[] | null>(null)
const isAll = ref(false)

const add = (): number =>
  charges.value.push({ name: charges.value.length > 0 ? '' : 'Freight', amount: '', by: 'value' })
const given = computed(() => charges.value.filter((charge) => charge.amount.trim() !== ''))
const isReadable = computed(() => given.value.every((charge) => isPlainDecimal(charge.amount.replace(/^-/, ''))))
const asked = computed(() =>
  given.value.length > 0 && isReadable.value
    ? JSON.stringify({
        ...props.invoice,
        charges: given.value.map((charge) => ({ ...charge, name: charge.name || 'charge' })),
        moveIds: moveIds.value,
      })
    : '',
)
watch(refDebounced(asked, 250), async (body) => {
  const found = body
    ? await trying.run(() => $fetch(`/api/purchasing/orders/${props.orderId}/charges`, { method: 'POST', body }))
    : []
  if (body === asked.value) {
    fallen.value = found ?? []
  }
})
async function choose(withOthers: boolean): Promise<void> {
  isAll.value = withOthers
  const received = await $fetch<ReceivedGoods[]>(`/api/purchasing/orders/${props.orderId}/received`, {
    query: withOthers ? { around: props.invoice.invoicedOn } : {},
  })
  offered.value = received
  if (moveIds.value.length === 0) {
    moveIds.value = (fallen.value.length > 0 ? fallen.value : received).map((row) => row.moveId)
  }
}
function toggle(moveId: number): void {
  moveIds.value = moveIds.value.includes(moveId)
    ? moveIds.value.filter((id) => id !== moveId)
    : [...moveIds.value, moveId]
}
const shown = computed(() => offered.value ?? fallen.value)
const chargedOf = (moveId: number): string | null => fallen.value.find((row) => row.moveId === moveId)?.charged ?? null
/** A fault says its place among the charges that were sent. */
const wrongOf = (charge: Charge, field: string): string | undefined => {
  const path = `charges.${given.value.indexOf(charge)}.${field}`
  return props.fields[path] ?? trying.fields.value[path]
}
if (props.isAlone && charges.value.length === 0) {
  add()
}
</script>

<template>
  <section class="border-t border-line py-3" aria-label="Charges">
    <div
      v-for="(charge, place) in charges"
      :key="place"
      class="mb-2 grid grid-cols-1 items-start gap-3 sm:grid-cols-[1fr_10rem_10rem_2rem]"
      data-test="charge"
    >
      <UiTextField v-model="charge.name" label="Charge" :error="wrongOf(charge, 'name')" />
      <UiMoneyField
        v-model="charge.amount"
        :currency="currency"
        label="Its amount"
        :error="wrongOf(charge, 'amount')"
      />
      <UiChoice
        v-model="charge.by"
        label="Spread"
        :options="SPREADS.map((spread) => ({ value: spread, name: SAYS[spread] }))"
        :error="wrongOf(charge, 'by')"
      />
      <UiButton
        v-if="!isAlone || place > 0"
        class="mt-5"
        small
        :aria-label="`Remove the charge ${charge.name}`"
        @click="charges.splice(place, 1)"
        ><X class="size-4" aria-hidden="true"
      /></UiButton>
    </div>
    <div class="flex flex-wrap items-center gap-2">
      <UiButton small @click="add">{{ charges.length ? 'Another charge' : 'Add a charge' }}</UiButton>
      <template v-if="charges.length">
        <UiButton v-if="!offered" small @click="choose(false)">Choose the receipts</UiButton>
        <UiButton v-else-if="!isAll" small @click="choose(true)">Receipts of other orders</UiButton>
      </template>
      <span v-else class="text-fine text-soft">Freight, duty and the like become part of what the goods cost.</span>
    </div>
    <UiProblem
      :text="fields.moveIds ?? (Object.keys(trying.fields.value).length ? '' : trying.detail.value)"
      class="mt-2"
    />
    <UiLinesTable v-if="charges.length && shown.length" class="mt-3 w-full" aria-label="Goods that bear the charges">
      <thead>
        <tr class="text-left text-fine text-soft">
          <th v-if="offered" class="w-8"><span class="sr-only">Chosen</span></th>
          <th class="py-1 font-medium">Item</th>
          <th class="py-1 font-medium">Received</th>
          <th class="py-1 text-right font-medium">Quantity</th>
          <th class="py-1 text-right font-medium">Cost</th>
          <th class="py-1 text-right font-medium">Charges</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in shown" :key="row.moveId" class="border-t border-line/60">
          <td v-if="offered">
            <input
              type="checkbox"
              class="size-4 accent-[var(--maple)]"
              :checked="moveIds.includes(row.moveId)"
              :aria-label="`${row.code} of ${row.order}`"
              @change="toggle(row.moveId)"
            />
          </td>
          <td class="py-1"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></td>
          <td class="py-1 text-soft">{{ day(row.day) }}, {{ row.order }}</td>
          <td class="py-1 text-right"><UiQty :of="row.quantity" :unit="row.symbol" /></td>
          <td class="py-1 text-right">{{ money(row.value) }}</td>
          <td class="py-1 text-right font-semibold">
            {{ chargedOf(row.moveId) === null ? '' : money(chargedOf(row.moveId)!) }}
          </td>
        </tr>
      </tbody>
    </UiLinesTable>
  </section>
</template>
