<script setup lang="ts">
import type { QuotationRequest, QuotationRow } from '~~/shared/purchasing/quotations'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { day, digits, isPast, money } = usePrint()
const { data: request, refresh } = orNotFound(
  await useFetch<QuotationRequest>(() => `/api/purchasing/quotations/${id.value}`),
)
useHead({ title: () => `${request.value?.number} · Tsumiki` })
const { chosen, take, toggle, choose, quotedOf, total } = useQuotationChoice(() => request.value)

const isOpen = computed(() => request.value?.status === 'open')
const mayBuy = computed(() => session.allows('buy'))
const unsent = computed(() =>
  (request.value?.quotations ?? []).filter(({ sentOn, answeredOn }) => !sentOn && !answeredOn),
)
const waiting = computed(() =>
  (request.value?.quotations ?? []).filter(({ sentOn, answeredOn }) => sentOn && !answeredOn),
)
const answered = computed(() => (request.value?.quotations ?? []).filter(({ answeredOn }) => answeredOn))

const sending = ref<{ readonly suppliers: readonly QuotationRow[]; readonly isReminder: boolean } | null>(null)
const entering = ref<QuotationRow | null>(null)
const taking = ref(false)
const adding = ref(false)
const added = ref<number | null>(null)
const { busy, detail, fields, run } = useAct()
async function add(): Promise<void> {
  const done = await run((key) =>
    $fetch<object>(`/api/purchasing/quotations/${id.value}/suppliers`, {
      method: 'POST',
      body: { key, version: request.value!.version, supplierIds: added.value === null ? [] : [added.value] },
    }),
  )
  if (done) {
    adding.value = false
    added.value = null
    await refresh()
  }
}
async function cancel(): Promise<void> {
  const isEnding = isOpen.value
  const done = await run((key) =>
    $fetch<object>(`/api/purchasing/quotations/${id.value}/cancel`, {
      method: 'POST',
      body: { key, version: request.value!.version },
    }),
  )
  if (done) {
    const { number } = request.value!
    notices.say({ kind: 'done', text: isEnding ? `${number} is cancelled.` : `${number} is open again.` })
    await changed()
  }
}
async function changed(): Promise<void> {
  sending.value = null
  entering.value = null
  taking.value = false
  void refreshToday()
  await refresh()
}

/** How far a supplier’s answer is. */
function stateOf(quotation: QuotationRow): string {
  if (quotation.isDeclined) {
    return 'does not quote'
  }
  if (quotation.answeredOn) {
    return `answered ${day(quotation.answeredOn)}`
  }
  if (!quotation.sentOn) {
    return 'not asked yet'
  }
  return quotation.remindedOn ? `reminded ${day(quotation.remindedOn)}` : `asked ${day(quotation.sentOn)}`
}
const isCheapest = (lineId: number, { supplierId }: QuotationRow): boolean => {
  const own = quotedOf(lineId, supplierId)?.landed
  return (
    own !== null &&
    own !== undefined &&
    request.value!.quotations.every((other) => {
      const landed = quotedOf(lineId, other.supplierId)?.landed
      return landed === null || landed === undefined || BigInt(landed) >= BigInt(own)
    })
  )
}
const namesOf = (suppliers: readonly { readonly supplierId: number }[]): string =>
  [...new Set(suppliers.map(({ supplierId }) => supplierId))]
    .map((supplierId) => request.value!.quotations.find((entry) => entry.supplierId === supplierId)!.supplier)
    .join(' and ')
const summary = computed(() => {
  const { askedOn, answerBy, site, note } = request.value!
  return [`Asked ${day(askedOn)}, to be answered by ${day(answerBy)}`, site && `deliver to ${site}`, note]
    .filter(Boolean)
    .join(' · ')
})
const actsOf = (quotation: QuotationRow) => [
  { name: 'Enter what they quote', act: () => (entering.value = quotation) },
  {
    name: quotation.sentOn ? 'Remind' : 'Send the request',
    act: () => (sending.value = { suppliers: [quotation], isReminder: quotation.sentOn !== null }),
    isOff: quotation.answeredOn !== null,
  },
]
</script>

<template>
  <div v-if="request">
    <UiHead :title="`Quotation request ${request.number}`" :summary="summary">
      <UiTag v-if="!isOpen">{{ request.status }}</UiTag>
      <template v-if="mayBuy">
        <UiButton v-if="request.status !== 'taken'" :busy="busy" @click="cancel">{{
          isOpen ? 'Cancel the request' : 'Open it again'
        }}</UiButton>
        <UiButton v-if="isOpen" @click="adding = true">Ask one more</UiButton>
        <UiButton v-if="isOpen && waiting.length" @click="sending = { suppliers: waiting, isReminder: true }"
          >Remind {{ waiting.length }}</UiButton
        >
        <UiButton
          v-if="isOpen && unsent.length"
          :primary="answered.length === 0"
          @click="sending = { suppliers: unsent, isReminder: false }"
          >Send to {{ unsent.length }}</UiButton
        >
        <UiButton
          v-if="request.status !== 'cancelled' && answered.length"
          primary
          :disabled="chosen.size === 0"
          @click="taking = true"
          >Take {{ chosen.size }} {{ plural(chosen.size, 'line', 'lines') }}</UiButton
        >
      </template>
    </UiHead>
    <UiProblem :text="detail" class="mb-3" />
    <p v-if="request.least" class="mb-3" data-test="least">
      <b class="font-semibold">{{ money(request.least.total) }}</b> is the least for all of it, charges included: from
      {{ namesOf(request.least.suppliers) }}.
      <UiButton small @click="take(request.least)">Choose that</UiButton>
      <template v-if="request.leastInTime">
        In time it is <b class="font-semibold">{{ money(request.leastInTime.total) }}</b>, from
        {{ namesOf(request.leastInTime.suppliers) }}.
        <UiButton small @click="take(request.leastInTime)">Choose that</UiButton>
      </template>
    </p>
    <p v-else-if="answered.length" class="mb-3 text-soft">Not every line is quoted yet: there is no total of all.</p>
    <UiSheet>
      <UiLinesTable class="w-full" is-grid aria-label="Quotations side by side">
        <thead>
          <tr class="align-bottom">
            <th class="min-w-52 pb-2 text-left">Item</th>
            <th
              v-for="quotation in request.quotations"
              :key="quotation.supplierId"
              class="min-w-48 px-1.5 pb-2 text-left"
            >
              <NuxtLink :to="`/purchasing/suppliers/${quotation.supplierId}`" class="block text-ink hover:underline">{{
                quotation.supplier
              }}</NuxtLink>
              <span
                class="block font-normal"
                :class="!quotation.answeredOn && isPast(request.answerBy) ? 'text-brick' : 'text-soft'"
                >{{ stateOf(quotation) }}</span
              >
              <UiMenu
                v-if="mayBuy && isOpen"
                class="mt-1"
                small
                :label="quotation.answeredOn ? 'Change' : 'Answer'"
                :acts="actsOf(quotation)"
              />
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in request.lines" :key="line.id" class="border-t border-line align-top">
            <td class="py-2 pr-3">
              <UiItemChip :id="line.itemId" :code="line.code" :name="line.name" />
              <span class="block text-fine text-soft"
                >{{ digits(line.entered) }} {{ references.symbol(line.unit) }} by {{ day(line.neededOn)
                }}<template v-if="line.forOrder"> for {{ line.forOrder }}</template></span
              >
            </td>
            <td v-for="quotation in request.quotations" :key="quotation.supplierId" class="p-1.5">
              <PurchasingQuotedCell
                v-if="quotedOf(line.id, quotation.supplierId)"
                :quoted="quotedOf(line.id, quotation.supplierId)!"
                :quotation="quotation"
                :line="line"
                :is-chosen="chosen.get(line.id) === quotation.supplierId"
                :is-cheapest="isCheapest(line.id, quotation)"
                :may-choose="mayBuy && request.status !== 'cancelled'"
                @toggle="toggle(line.id, quotation.supplierId)"
              />
              <span v-else-if="quotation.answeredOn" class="text-soft">not quoted</span>
            </td>
          </tr>
        </tbody>
        <tfoot v-if="answered.length">
          <tr class="border-t border-line align-top">
            <th class="py-2 text-left font-normal text-soft">With charges, all they quote</th>
            <td v-for="quotation in request.quotations" :key="quotation.supplierId" class="px-4 py-2">
              <template v-if="quotation.total">
                <b class="font-semibold">{{ money(quotation.total) }}</b><span
                  v-if="!quotation.isWhole"
                  class="text-soft"
                >
                  for part of it</span
                >
                <span v-if="quotation.charges.length" class="block text-fine text-soft">{{
                  quotation.charges.map((charge) => `${charge.name} ${digits(charge.amount)}`).join(', ')
                }}</span>
                <span
                  v-if="quotation.validUntil"
                  class="block text-fine"
                  :class="isPast(quotation.validUntil) ? 'font-semibold text-brick' : 'text-soft'"
                  >hold until {{ day(quotation.validUntil) }}</span
                >
                <UiButton
                  v-if="mayBuy && request.status !== 'cancelled'"
                  small
                  class="mt-1"
                  @click="
                    choose(
                      quotation.lines.map((line) => line.lineId),
                      quotation.supplierId,
                    )
                  "
                  >All of theirs</UiButton
                >
              </template>
            </td>
          </tr>
        </tfoot>
      </UiLinesTable>
      <p v-if="chosen.size" class="mt-4 border-t border-line pt-3" aria-live="polite">
        Chosen: {{ chosen.size }} of {{ request.lines.length }} {{ plural(request.lines.length, 'line', 'lines') }},
        <b class="font-semibold" data-test="chosen-total">{{ money(total) }}</b> with the charges of
        {{ namesOf([...chosen.values()].map((supplierId) => ({ supplierId }))) }}.
      </p>
    </UiSheet>
    <PurchasingSendRequest
      v-if="sending"
      :request="request"
      :suppliers="sending.suppliers"
      :is-reminder="sending.isReminder"
      @done="changed"
      @close="sending = null"
    />
    <PurchasingEnterQuotation
      v-if="entering"
      :key="entering.supplierId"
      :request="request"
      :quotation="entering"
      @done="changed"
      @close="entering = null"
    />
    <PurchasingTakeQuotations
      v-if="taking"
      :request="request"
      :chosen="chosen"
      :total="total"
      @done="changed"
      @close="taking = false"
    />
    <UiDialog v-model="adding" title="Ask one more" act="Ask them too" :busy="busy" :problem="detail" @act="add">
      <UiPartnerField v-model="added" kind="supplier" label="Supplier" :error="fields.supplierIds" />
    </UiDialog>
  </div>
</template>
