<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{
  to: {
    itemId: number
    code: string
    name: string
    siteId: number
    site: string
    symbol: string
    available: string
    backOrder: string
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const session = useSession()
const notices = useNotices()
const { written } = useWritten()
const { amount, asTyped } = usePrint()
const { typedNumber } = useTypedNumber()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const elsewhere = ref<{ siteId: number; site: string; available: string }[] | null>(null)
const item = ref<MeasuredItem | null>(null)
const form = reactive({
  fromSiteId: null as number | null,
  quantity: props.to.backOrder === '0' ? '' : asTyped(props.to.backOrder),
  unit: 'piece',
  toBinId: null as number | null,
  how: 'once' as 'once' | 'transfer',
})
onMounted(async () => {
  const [loaded, sites, bins] = await Promise.all([
    fetchMeasured(props.to.itemId),
    $fetch('/api/stock/by-site', { query: { item: props.to.itemId } }),
    $fetch('/api/stock/put-away', { query: { items: props.to.itemId, site: props.to.siteId } }),
  ])
  item.value = loaded
  form.unit = loaded.stockUnit
  elsewhere.value = sites.rows.filter((row) => row.siteId !== props.to.siteId && ratio(row.available).compare(0) > 0)
  form.fromSiteId = elsewhere.value[0]?.siteId ?? null
  form.toBinId = bins[0]?.binId ?? null
})
const source = computed(() => elsewhere.value?.find((entry) => entry.siteId === form.fromSiteId))
const wrong = computed(() => fields.value['lines.0.quantity'])
const after = computed(() => {
  const typed = form.unit === item.value?.stockUnit ? typedNumber(form.quantity) : null
  return typed && toText(ratio(props.to.available).add(typed))
})
async function save(): Promise<void> {
  const body = { fromSiteId: form.fromSiteId, toSiteId: props.to.siteId, leavesOn: session.today }
  const line = { itemId: props.to.itemId, quantity: form.quantity, unit: form.unit }
  const done = await run<{ id: number; number: string; postingId?: number }>((key) =>
    form.how === 'once'
      ? $fetch('/api/stock/transfers/at-once', {
          method: 'POST',
          body: { key, ...body, lines: [{ ...line, toBinId: form.toBinId }] },
        })
      : $fetch('/api/stock/transfers', { method: 'POST', body: { key, ...body, lines: [line] } }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text:
      form.how === 'once'
        ? `${written(form.quantity, form.unit)} ${props.to.code} are at ${props.to.site} now, by ${done.number}.`
        : `${done.number} is written. Nothing has left yet.`,
    links: [{ to: `/stock/transfers/${done.id}`, label: 'Open it' }],
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    :title="`Bring ${to.code} to ${to.site}`"
    :act="
      form.how === 'once'
        ? `Carry ${written(form.quantity, form.unit)} over`
        : `Write a transfer of ${written(form.quantity, form.unit)}`
    "
    :busy="busy"
    :disabled="!form.fromSiteId || !form.quantity.trim()"
    :problem="wrong ? '' : detail"
    @act="save"
  >
    <p class="mb-3 text-soft">{{ to.name }}</p>
    <UiEmptyState
      v-if="elsewhere?.length === 0"
      title="There is none anywhere else"
      summary="No other site has any that is free. Buy it or make it."
    />
    <template v-else-if="elsewhere">
      <ul class="mb-4 grid gap-1">
        <li v-for="place in elsewhere" :key="place.siteId">
          <label class="flex items-center gap-2"
            ><input v-model="form.fromSiteId" type="radio" :value="place.siteId" class="accent-[var(--maple)]" />{{
              place.site
            }}<GoodsBlock state="on hand" class="h-3 w-6" /><b class="font-semibold"
              >{{ amount(place.available, 6) }} {{ to.symbol }}</b
            ><span class="text-soft">free there</span></label
          >
        </li>
      </ul>
      <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
        <UiQuantityField
          v-model="form.quantity"
          v-model:unit="form.unit"
          label="Quantity"
          :item="item"
          :error="wrong"
        />
        <UiChoice
          v-model="form.how"
          label="How"
          :options="[
            { value: 'once', name: 'moved at once' },
            { value: 'transfer', name: 'as a transfer, to ship and receive' },
          ]"
        />
        <UiChoice
          v-if="form.how === 'once'"
          v-model="form.toBinId"
          label="Into"
          :options="
            references.bins
              .filter((b) => b.siteId === to.siteId && !b.closedToReceiving)
              .map((b) => ({ value: b.id, name: b.name }))
          "
          :error="fields['lines.0.binId']"
        />
      </div>
      <p v-if="after && source && form.how === 'once'" class="mt-3">
        Available at {{ to.site }}:
        <UiChange :before="amount(to.available, 6)" :after="amount(after, 6)" :unit="to.symbol" />
      </p>
    </template>
  </UiDialog>
</template>
