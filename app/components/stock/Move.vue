<script setup lang="ts">
import type { MeasuredItem } from '~/composables/use-measure'

const props = defineProps<{ from: { itemId: number, code: string, name: string, binId: number, bin: string, lot: string | null, unit: string, free: string } }>()
const emit = defineEmits<{ done: [], close: [] }>()
const references = useReferences()
const { written } = useWritten()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ toBinId: null as number | null, quantity: props.from.free, unit: props.from.unit })
const item = ref<MeasuredItem | null>(null)
void fetchMeasured(props.from.itemId).then((loaded) => { item.value = loaded })

async function save(): Promise<void> {
  const done = await run(key => $fetch('/api/stock/moves', { method: 'POST', body: { key, itemId: props.from.itemId, fromBinId: props.from.binId, lot: props.from.lot ?? '', ...form } }))
  if (!done) return
  notices.say({ kind: 'done', postingId: done.postingId, text: `${written(form.quantity, form.unit)} ${props.from.code} moved.` })
  emit('done')
}
</script>

<template>
  <UiConfirm v-model="open" :title="`Move ${from.code} out of ${from.bin}`" :act="`Move ${written(form.quantity, form.unit)}`" :busy="busy" :problem="Object.keys(fields).length ? '' : detail" @act="save">
    <p class="mb-3 text-soft">{{ from.name }}<template v-if="from.lot">, lot {{ from.lot }}</template></p>
    <div class="grid grid-cols-2 gap-3">
      <FormQuantity v-model="form.quantity" v-model:unit="form.unit" label="Quantity" :item="item" :error="fields.quantity" />
      <FormSelect v-model="form.toBinId" label="Into" :options="references.bins.filter(b => b.id !== from.binId && !b.closedToReceiving).map(b => ({ value: b.id, name: b.name }))" :error="fields.toBinId" />
    </div>
  </UiConfirm>
</template>
