<script setup lang="ts">
import { ratio, toText, ZERO } from '~~/core/units/exact'
import type { NeedRow, OfferRow } from '~~/shared/purchasing/buying'
import type { ChosenOffer } from '~/composables/purchasing/chosen-offers'

/** The suppliers of one thing that wants buying, side by side: all of it from one, or split over several. */
const props = defineProps<{ need: NeedRow; chosen: readonly ChosenOffer[] }>()
const emit = defineEmits<{ take: [offers: readonly ChosenOffer[]]; drop: []; close: [] }>()
const session = useSession()
const { day, price, money, amount, asTyped } = usePrint()
const { typedNumber } = useTypedNumber()
/** How much is typed for each supplier, in the unit that they sell it in. */
const typed = reactive<Record<number, string>>(
  Object.fromEntries(
    props.need.offers.map(({ supplierId }) => [
      supplierId,
      asTyped(props.chosen.find(({ offer }) => offer.supplierId === supplierId)?.quantity ?? ''),
    ]),
  ),
)
/** The offers as they are for the quantities that are typed. */
const asked = ref<Readonly<Record<number, OfferRow>>>(
  Object.fromEntries(props.chosen.map(({ offer }) => [offer.supplierId, offer])),
)
/** Why a quantity cannot be bought of a supplier, by supplier. */
const faults = reactive<Record<number, string>>({})
const busy = ref(false)
/** Each supplier is asked for itself: an answer counts as long as the same is typed. */
async function ask(offer: OfferRow): Promise<void> {
  const { supplierId, unit } = offer
  const quantity = typed[supplierId]!.trim()
  faults[supplierId] = ''
  if (quantity === '') {
    return
  }
  try {
    const found = await $fetch<OfferRow[]>('/api/purchasing/buying/offers', {
      method: 'POST',
      body: { itemId: props.need.itemId, quantity, unit },
    })
    const own = found.find((entry) => entry.supplierId === supplierId)
    if (own && typed[supplierId]!.trim() === quantity) {
      asked.value = { ...asked.value, [supplierId]: own }
    }
  } catch (error) {
    const { fields, detail } = problemOf(error)
    faults[supplierId] = fields?.quantity ?? detail
  }
}
const shown = (offer: OfferRow): OfferRow => asked.value[offer.supplierId] ?? offer
function takeAll(offer: OfferRow): void {
  for (const { supplierId } of props.need.offers) {
    typed[supplierId] = ''
  }
  typed[offer.supplierId] = asTyped(offer.quantity)
  asked.value = { ...asked.value, [offer.supplierId]: offer }
}
async function reachNext(offer: OfferRow): Promise<void> {
  const now = shown(offer)
  typed[offer.supplierId] = asTyped(toText(ratio(now.quantity).add(ratio(now.next!.more))))
  await ask(offer)
}
const isChosen = (offer: OfferRow): boolean => (typedNumber(typed[offer.supplierId]!) ?? ZERO).compare(ZERO) > 0
const taken = computed(() => props.need.offers.filter(isChosen))
/** What was typed last is asked for before it is taken. */
async function take(): Promise<void> {
  busy.value = true
  await Promise.all(taken.value.map(ask))
  busy.value = false
  if (taken.value.every(({ supplierId }) => !faults[supplierId])) {
    emit(
      'take',
      taken.value.map((offer) => ({ offer: shown(offer), quantity: shown(offer).quantity })),
    )
  }
}
const onTime = ({ lines, onTime: whole }: OfferRow): string =>
  lines === 0 ? 'nothing was due in a year' : `${Math.round((whole / lines) * 100)} % of ${lines} on time`
const savesText = ({ next }: OfferRow): string => {
  const saves = BigInt(next?.saves ?? '0')
  if (saves > 0n) {
    return ` and save ${money(saves)}`
  }
  return saves < 0n ? ` for ${money(-saves)} more in all` : ' for the same sum'
}
</script>

<template>
  <UiSideSheet :title="`${need.code} ${need.name}`" @close="emit('close')">
    <p class="mb-4">
      <UiQty :of="need.quantity" :unit="need.symbol" /> wanted by {{ day(need.neededOn) }} ({{ need.why }}).
    </p>
    <p v-if="need.offers.length === 0" class="text-soft">
      No supplier has terms for it. Write them on
      <NuxtLink :to="`/catalogue/${need.itemId}`" class="underline">the item</NuxtLink>.
    </p>
    <section
      v-for="offer in need.offers"
      :key="offer.supplierId"
      class="mb-3 rounded-md border p-3"
      :class="isChosen(offer) ? 'border-maple' : 'border-line'"
      :aria-label="offer.supplier"
    >
      <div class="flex items-baseline justify-between gap-3">
        <h3 class="font-semibold">
          <NuxtLink :to="`/purchasing/suppliers/${offer.supplierId}`" class="hover:underline">{{
            offer.supplier
          }}</NuxtLink>
        </h3>
        <span v-if="session.allows('costs')"
          ><b class="font-semibold">{{ price(shown(offer).price, offer.currency) }}</b>
          <span class="text-soft"> / {{ offer.symbol }}</span></span
        >
      </div>
      <p class="mt-1">
        There on
        <span :class="offer.arrivesOn > need.neededOn && 'font-semibold text-brick'">{{
          day(offer.arrivesOn)
        }}</span><span class="text-soft"
          >, {{ offer.leadDays }} working {{ plural(offer.leadDays, 'day', 'days') }}; {{ onTime(offer) }}</span
        >
      </p>
      <p v-if="offer.minimum !== '0' || offer.multiple !== '0'" class="text-soft">
        <template v-if="offer.minimum !== '0'">from {{ amount(offer.minimum, 4) }} {{ offer.symbol }}</template
        ><template v-if="offer.minimum !== '0' && offer.multiple !== '0'">, </template
        ><template v-if="offer.multiple !== '0'"
          >in steps of {{ amount(offer.multiple, 4) }} {{ offer.symbol }}</template
        >
      </p>
      <div class="mt-2 flex items-end gap-3">
        <UiTextField
          v-model="typed[offer.supplierId]!"
          class="w-32"
          :label="`Buy, ${offer.symbol}`"
          :error="faults[offer.supplierId]"
          @change="ask(offer)"
        />
        <UiButton small class="mb-1" @click="takeAll(offer)">All of it here</UiButton>
        <span v-if="isChosen(offer)" class="mb-1.5 ml-auto text-right">
          <span v-if="shown(offer).quantity !== shown(offer).wanted" class="block text-fine text-soft"
            >{{ amount(shown(offer).quantity, 4) }} {{ offer.symbol }} by the terms</span
          ><b v-if="session.allows('costs') && shown(offer).total" class="font-semibold">{{
            money(shown(offer).total!)
          }}</b>
        </span>
      </div>
      <p v-if="isChosen(offer) && shown(offer).next && session.allows('costs')" class="mt-2">
        <button type="button" class="text-left underline" @click="reachNext(offer)">
          {{ amount(shown(offer).next!.more, 4) }} {{ offer.symbol }} more cost
          {{ price(shown(offer).next!.price, offer.currency) }} each{{ savesText(shown(offer)) }}
        </button>
      </p>
    </section>
    <template #foot>
      <UiButton v-if="need.wantId && session.allows('buy')" @click="emit('drop')">Take it off the list</UiButton>
      <UiButton primary :busy="busy" :disabled="taken.length === 0" @click="take">Take this</UiButton>
    </template>
  </UiSideSheet>
</template>
