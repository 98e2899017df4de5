<script setup lang="ts">
import { groupBy } from '~~/core/group-by'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import type { BuyingSupplier, NeedRow } from '~~/shared/purchasing/buying'
import { dueOf, type ChosenOffer } from '~/composables/purchasing/chosen-offers'

/** What is chosen of the buying list becomes orders; what each supplier wants an order to be worth is told before. */
const props = defineProps<{
  needs: readonly NeedRow[]
  offersOf: (need: NeedRow) => readonly ChosenOffer[]
  suppliers: readonly BuyingSupplier[]
  /** The order that all of it goes on. */
  orderId: number | null
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const notices = useNotices()
const { price, amount, asTyped, day } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const onDrafts = ref(true)

interface Line {
  readonly need: NeedRow
  readonly chosen: ChosenOffer
}
const lines = computed<Line[]>(() =>
  props.needs.flatMap((need) => props.offersOf(need).map((chosen) => ({ need, chosen }))),
)
const amountOf = ({ chosen }: Line): Ratio => ratio(chosen.quantity).mul(ratio(chosen.offer.price ?? '0'))
const orders = computed(() =>
  [...groupBy(lines.value, ({ need, chosen }) => `${chosen.offer.supplierId} ${need.siteId ?? ''}`).values()].map(
    (own) => {
      const { need, chosen } = own[0]!
      const supplier = props.suppliers.find(({ id }) => id === chosen.offer.supplierId)!
      const draft =
        props.orderId === null
          ? supplier.drafts.find(({ siteId }) => siteId === need.siteId)
          : supplier.drafts.find(({ id }) => id === props.orderId)
      const isOn = draft !== undefined && (onDrafts.value || props.orderId !== null)
      const total = own.reduce((sum, line) => sum.add(amountOf(line)), isOn ? ratio(draft.total ?? '0') : ZERO)
      return { own, supplier, site: need.site, draft, isOn, total }
    },
  ),
)
const hasDrafts = computed(() => props.orderId === null && orders.value.some(({ draft }) => draft))
/** “12.40 short of the least that an order is worth”. */
function shortOf(total: Ratio, least: string | null): string | null {
  const missing = ratio(least ?? '0').sub(total)
  return missing.compare(ZERO) > 0 ? toText(missing) : null
}
async function order(): Promise<void> {
  const done = await run((key) =>
    $fetch('/api/purchasing/buying/order', {
      method: 'POST',
      body: {
        key,
        onDrafts: hasDrafts.value && onDrafts.value,
        orderId: props.orderId,
        lines: lines.value.map(({ need, chosen: { offer, quantity } }) => ({
          itemId: need.itemId,
          supplierId: offer.supplierId,
          siteId: need.siteId,
          quantity: asTyped(quantity),
          unit: offer.unit,
          price: offer.price,
          dueOn: dueOf(need, offer),
          wantId: need.wantId,
        })),
      },
    }),
  )
  if (!done) {
    return
  }
  const numbers = done.orders.map(({ number }) => number).join(', ')
  notices.say({ kind: 'done', text: `${numbers} ${plural(done.orders.length, 'is', 'are')} ready to be sent.` })
  emit('done')
  if (done.orders.length === 1) {
    await navigateTo(`/purchasing/${done.orders[0]!.id}`)
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`Order ${lines.length} ${plural(lines.length, 'line', 'lines')}`"
    :act="`Write ${orders.length} ${plural(orders.length, 'order', 'orders')}`"
    :busy="busy"
    :problem="detail"
    @act="order"
  >
    <section v-for="(entry, index) in orders" :key="index" class="mb-4" :aria-label="entry.supplier.name">
      <div class="flex flex-wrap items-baseline justify-between gap-x-4 border-b border-line pb-1">
        <h3 class="font-semibold">
          {{ entry.supplier.name }}<span v-if="entry.site" class="font-normal text-soft"> to {{ entry.site }}</span
          ><span v-if="entry.isOn" class="font-normal text-soft"> on {{ entry.draft!.number }}</span>
        </h3>
        <b v-if="session.allows('costs')" class="font-semibold">{{
          price(toText(entry.total), entry.supplier.currency)
        }}</b>
      </div>
      <ul>
        <li v-for="(line, at) in entry.own" :key="at" class="flex justify-between gap-3 py-1">
          <span
            >{{ line.need.code }} <span class="text-soft">{{ line.need.name }}</span></span
          >
          <span class="whitespace-nowrap"
            >{{ amount(line.chosen.quantity, 4) }} {{ line.chosen.offer.symbol
            }}<template v-if="session.allows('costs')">
              at {{ price(line.chosen.offer.price, line.chosen.offer.currency) }}</template
            >
            <span class="text-soft"> by {{ day(dueOf(line.need, line.chosen.offer)) }}</span></span
          >
        </li>
      </ul>
      <template v-if="session.allows('costs')">
        <p v-if="shortOf(entry.total, entry.supplier.minimumOrder)" class="text-brick">
          {{ price(shortOf(entry.total, entry.supplier.minimumOrder)!, entry.supplier.currency) }} short of the
          {{ price(entry.supplier.minimumOrder!, entry.supplier.currency) }} that an order is worth at least.
        </p>
        <p v-if="shortOf(entry.total, entry.supplier.freeFreight)" class="text-soft">
          {{ price(shortOf(entry.total, entry.supplier.freeFreight)!, entry.supplier.currency) }} more and freight is
          free.
        </p>
      </template>
    </section>
    <UiCheckField v-if="hasDrafts" v-model="onDrafts" label="Add to the drafts that are there" />
    <p v-for="(sentence, field) in fields" :key="field" role="alert" class="text-brick">{{ sentence }}</p>
  </UiDialog>
</template>
