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
  <UiDialog
    v-model="open"
    :title="`What is recorded of lot ${lot.number}`"
    act="Keep"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiTextField v-model="form.supplierNumber" label="Supplier’s lot number" :error="fields.supplierNumber" />
      <UiDateField v-model="form.madeOn" label="Made on" :error="fields.madeOn" />
      <UiDateField v-model="form.receivedOn" label="Received on" :error="fields.receivedOn" />
      <UiDateField v-model="form.expiresOn" label="Expires on" :error="fields.expiresOn" />
      <UiDateField v-model="form.bestBeforeOn" label="Best before" :error="fields.bestBeforeOn" />
      <UiTextField v-model="form.note" label="Note" :error="fields.note" />
      <StockTraitFields v-model="traits" :rules="lot.rules" :fields="fields" />
    </div>
  </UiDialog>
</template>
