<script setup lang="ts">
import type { TraitRule } from '~~/shared/stock/answers'
const props = defineProps<{
  lot: {
    id: number
    number: string
    version: number
    supplierNumber: string
    madeOn: string | null
    receivedOn: string | null
    expiresOn: string | null
    bestBeforeOn: string | null
    traits: Record<string, string>
    note: string
    rules: readonly TraitRule[]
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({
  supplierNumber: props.lot.supplierNumber,
  madeOn: props.lot.madeOn ?? '',
  receivedOn: props.lot.receivedOn ?? '',
  expiresOn: props.lot.expiresOn ?? '',
  bestBeforeOn: props.lot.bestBeforeOn ?? '',
  note: props.lot.note,
})
const traits = ref<Record<string, string>>({ ...props.lot.traits })
async function save(): Promise<void> {
  if (
    await run(() =>
      $fetch(`/api/stock/lots/${props.lot.id}`, {
        method: 'PUT',
        body: { version: props.lot.version, ...form, traits: traits.value },
      }),
    )
  ) {
    emit('done')
  }
}
</script>

<template>
  <UiConfirm
    v-model="open"
    :title="`What is recorded of lot ${lot.number}`"
    act="Keep it so"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-2 gap-3">
      <FormText v-model="form.supplierNumber" label="Supplier’s lot number" :error="fields.supplierNumber" />
      <FormText v-model="form.madeOn" label="Made on" type="date" :error="fields.madeOn" />
      <FormText v-model="form.receivedOn" label="Received on" type="date" :error="fields.receivedOn" />
      <FormText v-model="form.expiresOn" label="Expires on" type="date" :error="fields.expiresOn" />
      <FormText v-model="form.bestBeforeOn" label="Best before" type="date" :error="fields.bestBeforeOn" />
      <FormText v-model="form.note" label="Note" :error="fields.note" />
      <StockTraitFields v-model="traits" :rules="lot.rules" :fields="fields" />
    </div>
  </UiConfirm>
</template>
