<script setup lang="ts">
import { ratio } from '~~/core/units/exact'
import { isPartlyForOthers, openOf, thereFor } from '~/composables/demand/line-cover'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const notices = useNotices()
const { day, amount } = usePrint()
const { data: order, refresh } = orNotFound(await useFetch(() => `/api/demand/orders/${id.value}`))
const { busy, detail, code, run } = useAct()
const asking = ref(false)
const choosing = ref(false)
useHead({ title: () => `Ship ${order.value?.number} · Tsumiki` })

const picks = computed(
  () => order.value?.allocations.map((a) => ({ ...a, line: order.value!.lines.find((l) => l.id === a.lineId)! })) ?? [],
)
const couldAllocate = computed(
  () =>
    order.value?.lines.some((line) => openOf(line).compare(0) > 0 && (line.free !== '0' || line.canPack !== '0')) ??
    false,
)
const hasOpen = computed(
  () => order.value?.status === 'open' && order.value.lines.some((line) => openOf(line).compare(0) > 0),
)
/** Only services are left of it: somebody says that they were rendered. */
const onlyServices = computed(
  () => hasOpen.value && order.value!.lines.every((line) => line.kind === 'service' || openOf(line).compare(0) <= 0),
)
const table = computed(() => order.value?.packing ?? [])
const toShip = computed(() => picks.value.length + table.value.length)
const total = computed(() => {
  if (onlyServices.value) {
    return 'Record the services as rendered'
  }
  if (picks.value.length === 1 && table.value.length === 0) {
    return `Ship ${amount(picks.value[0]!.quantity)} ${picks.value[0]!.line.symbol}`
  }
  if (table.value.length > 0) {
    return `Pack and ship ${toShip.value} ${plural(toShip.value, 'pick', 'picks')}`
  }
  return `Ship ${picks.value.length} picks`
})
async function changed(): Promise<void> {
  void refreshToday()
  await refresh()
}
async function allocate(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/dispatch/${id.value}/allocate`, { method: 'POST', body: { key, version: order.value!.version } }),
  )
  if (!done) {
    return
  }
  // Told once the page is up to date: who acts on what is told acts on the present state.
  await changed()
  notices.say({
    kind: 'done',
    text: `Allocated ${done.lines.map((l) => `${l.quantity} ${l.symbol} ${l.code}${l.missing === '0' ? '' : ` (${l.missing} missing)`}`).join(', ')}.`,
  })
}
async function deallocate(): Promise<void> {
  if (
    await run((key) =>
      $fetch(`/api/dispatch/${id.value}/deallocate`, { method: 'POST', body: { key, version: order.value!.version } }),
    )
  ) {
    await changed()
  }
}
async function ship(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/dispatch/${id.value}/ship`, { method: 'POST', body: { key, version: order.value!.version } }),
  )
  if (!done) {
    return
  }
  asking.value = false
  notices.say({
    kind: 'done',
    postingId: done.postingId ?? undefined,
    text: `${order.value!.number} is shipped${done.done ? ' in full' : ' in part; the rest stays open'}.`,
  })
  await changed()
}
useKeys([
  {
    key: 'a',
    summary: 'allocate',
    act: () => {
      if (hasOpen.value && session.allows('ship')) {
        void allocate()
      }
    },
  },
])
</script>

<template>
  <div v-if="order">
    <UiHead
      :title="`${order.number}  ${order.customer}`"
      :summary="[order.address, order.note].filter(Boolean).join(' · ')"
    >
      <span class="font-semibold">due {{ day(order.dueOn) }}</span
      ><UiTag v-if="order.status !== 'open'" tone="good">{{ order.status }}</UiTag>
      <template v-if="session.allows('ship') && order.status === 'open'">
        <UiButton v-if="toShip" :busy="busy" @click="deallocate">Deallocate</UiButton>
        <UiButton v-if="hasOpen && couldAllocate" @click="choosing = true">Choose the lots</UiButton>
        <UiButton
          v-if="hasOpen && !onlyServices"
          :primary="toShip === 0"
          :busy="busy"
          :disabled="!couldAllocate"
          :title="couldAllocate ? undefined : 'Nothing of what is still open is free'"
          @click="allocate"
          >Allocate what is there</UiButton
        >
        <UiButton v-if="toShip || onlyServices" primary @click="asking = true">{{ total }}</UiButton>
      </template>
    </UiHead>
    <UiProblem :text="asking ? '' : detail" class="mb-3" />
    <UiButton v-if="code === 'stale-version'" class="mb-3" @click="refresh()">Reload</UiButton>
    <div class="mb-4 grid grid-cols-1 sm:grid-cols-2 gap-4">
      <UiSheet title="The order" flush>
        <UiLinesTable class="w-full">
          <tbody>
            <tr v-for="line in order.lines" :key="line.id" class="h-11 border-t border-line/60 first:border-0">
              <td class="px-3"><UiItemChip :id="line.itemId" :code="line.code" :name="line.name" /></td>
              <td class="px-3 text-right"><UiQty strong :of="line.quantity" :unit="line.symbol" /></td>
              <td class="w-44 px-3">
                <GoodsBar
                  :on-hand="thereFor(line)"
                  :allocated="line.allocated"
                  coming="0"
                  :wanted="String(ratio(line.quantity).sub(ratio(line.shipped)).valueOf())"
                />
              </td>
              <td class="px-3 text-right text-fine text-soft">
                <template v-if="line.shipped !== '0'">shipped {{ amount(line.shipped) }}</template
                ><template v-else
                  ><template v-if="isPartlyForOthers(line)">{{ amount(line.got) }} of </template
                  >{{ amount(line.free) }} free<template v-if="isPartlyForOthers(line)"> after earlier orders</template
                  ><template v-if="line.canPack !== '0'">, {{ amount(line.canPack) }} can be packed</template></template
                >
              </td>
            </tr>
          </tbody>
        </UiLinesTable>
      </UiSheet>
      <UiSheet title="Pick list" flush>
        <UiLinesTable v-if="picks.length" class="w-full" aria-label="Pick list">
          <tbody>
            <tr v-for="(pick, index) in picks" :key="index" class="h-11 border-t border-line/60 first:border-0">
              <td class="px-3 font-semibold">{{ pick.bin }}</td>
              <td class="px-3">
                {{ pick.line.code }}<span v-if="pick.piece" class="text-soft"> {{ pick.piece }}</span
                ><span v-if="pick.lot" class="text-soft"> lot {{ pick.lot }}</span>
              </td>
              <td class="px-3 text-right">
                <span class="inline-flex items-center gap-2"
                  ><GoodsBlock state="allocated" class="h-3.5 w-6" /><UiQty
                    strong
                    :of="pick.quantity"
                    :unit="pick.line.symbol"
                /></span>
              </td>
            </tr>
          </tbody>
        </UiLinesTable>
        <div
          v-for="job in table"
          :key="job.buildId"
          class="border-t border-line/60 px-3 py-2 first:border-0"
          data-test="at-table"
        >
          <p class="flex items-center gap-2">
            <GoodsBlock state="making planned" class="h-3.5 w-6" /><b class="font-semibold"
              >Pack {{ amount(job.quantity) }} {{ job.symbol }} {{ job.code }} at the table</b
            ><NuxtLink :to="`/workshop/builds/${job.buildId}`" class="text-fine underline">{{ job.number }}</NuxtLink>
          </p>
          <ul class="mt-1">
            <li v-for="(part, index) in job.parts" :key="index" class="flex justify-between gap-3 py-0.5">
              <span
                ><b class="font-medium">{{ part.bin }}</b> {{ part.code
                }}<span v-if="part.lot" class="text-soft"> lot {{ part.lot }}</span></span
              ><UiQty :of="part.quantity" :unit="part.symbol" />
            </li>
          </ul>
        </div>
        <UiEmptyState
          v-if="toShip === 0 && order.status === 'open'"
          title="Nothing is allocated"
          summary="Allocate sets goods aside for this order, soonest expiry and oldest first."
        />
        <p v-else-if="toShip === 0" class="p-4 text-soft">Shipped.</p>
      </UiSheet>
    </div>
    <StockPostings :postings="order.postings" @reversed="changed" />
    <DispatchChoose
      v-if="choosing"
      :order="order"
      @done="
        () => {
          choosing = false
          changed()
        }
      "
      @close="choosing = false"
    />
    <UiDialog
      v-model="asking"
      records
      :title="`Ship ${order.number} to ${order.customer}?`"
      :act="total"
      :busy="busy"
      :problem="detail"
      @act="ship"
    >
      <p v-for="(pick, index) in picks" :key="index" class="flex items-center gap-2 py-1">
        <GoodsBlock state="allocated" class="h-3.5 w-6" /><b class="font-semibold"
          >{{ amount(pick.quantity) }} {{ pick.line.symbol }}</b
        >
        {{ pick.line.code }}<span v-if="pick.lot" class="text-soft">lot {{ pick.lot }}</span> from {{ pick.bin }} →
        {{ order.customer }}
      </p>
      <p v-for="job in table" :key="job.buildId" class="flex items-center gap-2 py-1">
        <GoodsBlock state="making planned" class="h-3.5 w-6" /><b class="font-semibold"
          >{{ amount(job.quantity) }} {{ job.symbol }}</b
        >
        {{ job.code }}, packed now from {{ job.parts.length }} {{ plural(job.parts.length, 'pick', 'picks') }} →
        {{ order.customer }}
      </p>
      <p class="mt-3 text-soft">
        They leave the stock at their average cost.
        {{ hasOpen ? 'The rest of the order stays open.' : 'The order is then shipped in full.' }}
      </p>
    </UiDialog>
  </div>
</template>
