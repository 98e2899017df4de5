<script setup lang="ts">
import { STOCK_STATUSES } from '~~/core/stock'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{
  from: {
    itemId: number
    code: string
    name: string
    binId: number
    bin: string
    lot: string | null
    piece?: string | null
    status: string
    unit: string
    onHand: string
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const { asTyped } = usePrint()
const references = useReferences()
const { written } = useWritten()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  toBinId: null as number | null,
  quantity: asTyped(props.from.onHand),
  unit: props.from.unit,
  toStatus: props.from.status,
  effectiveOn: '',
})
const item = ref<MeasuredItem | null>(null)
void fetchMeasured(props.from.itemId).then((loaded) => {
  item.value = loaded
})
const siteOf = (id: number): number | undefined => references.allBins.find((bin) => bin.id === id)?.siteId
const bins = computed(() =>
  references.bins
    .filter((bin) => bin.id === props.from.binId || !bin.closedToReceiving)
    .map((bin) => {
      const site = references.sites.find((site) => site.id === bin.siteId)
      let name
      if (bin.id === props.from.binId) {
        name = `${bin.name}, where it is`
      } else if (bin.siteId === siteOf(props.from.binId)) {
        name = bin.name
      } else {
        name = `${bin.name}, ${site?.name}`
      }
      return {
        value: bin.id,
        name,
      }
    }),
)
const stays = computed(() => form.toBinId === props.from.binId || form.toBinId === null)
const act = computed(() =>
  stays.value && form.toStatus !== props.from.status
    ? `Set ${written(form.quantity, form.unit)} ${form.toStatus}`
    : `Move ${written(form.quantity, form.unit)}`,
)

async function save(): Promise<void> {
  const toBinId = form.toBinId ?? (form.toStatus === props.from.status ? null : props.from.binId)
  const done = await run((key) =>
    $fetch('/api/stock/moves', {
      method: 'POST',
      body: {
        key,
        itemId: props.from.itemId,
        fromBinId: props.from.binId,
        lot: props.from.lot ?? '',
        piece: props.from.piece ?? '',
        status: props.from.status,
        ...form,
        toBinId,
      },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    postingId: done.postingId,
    text: `${written(form.quantity, form.unit)} ${props.from.code} ${stays.value ? `are ${form.toStatus}` : 'moved'}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    :title="`Move ${from.code} out of ${from.bin}`"
    :act="act"
    :busy="busy"
    :problem="Object.keys(fields).some((field) => field in form) ? '' : detail"
    @act="save"
  >
    <p class="mb-3 text-soft">
      {{ from.name }}<template v-if="from.piece">, piece {{ from.piece }}</template
      ><template v-if="from.lot">, lot {{ from.lot }}</template
      >, {{ from.status }}
    </p>
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiQuantityField
        v-model="form.quantity"
        v-model:unit="form.unit"
        label="Quantity"
        :item="item"
        :error="fields.quantity"
      />
      <UiChoice v-model="form.toBinId" label="Into" :options="bins" :error="fields.toBinId" />
      <UiChoice
        v-model="form.toStatus"
        label="Status from then on"
        :options="STOCK_STATUSES.map((s) => ({ value: s, name: s }))"
        :error="fields.toStatus"
      />
      <UiDateField v-model="form.effectiveOn" label="Date" placeholder="today" :error="fields.effectiveOn" />
    </div>
    <p v-if="form.toBinId && siteOf(form.toBinId) !== siteOf(from.binId)" class="mt-3 text-soft">
      That bin is at another site. The goods are there at once; write a transfer where they are on their way for a
      while.
    </p>
    <p
      v-if="stays && form.toStatus !== 'available' && form.toStatus !== from.status"
      class="mt-3 flex items-center gap-2"
    >
      <GoodsBlock state="held" class="h-4 w-8" />Goods that are {{ form.toStatus }} are neither picked nor planned with.
    </p>
  </UiDialog>
</template>
