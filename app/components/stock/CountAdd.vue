<script setup lang="ts">
const props = defineProps<{ countId: number }>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ itemId: null as number | null, binId: references.bins[0]?.id ?? null, lot: '', piece: '' })
const tracking = ref('none')
async function choose(id: number): Promise<void> {
  tracking.value = (await $fetch(`/api/catalogue/items/${id}`)).tracking
}
async function save(): Promise<void> {
  if (await run(() => $fetch(`/api/stock/counts/${props.countId}/lines`, { method: 'POST', body: form }))) {
    emit('done')
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    title="Add a line to the sheet"
    act="Add the line"
    :busy="busy"
    :disabled="form.itemId === null"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiItemField
        v-model="form.itemId"
        class="sm:col-span-2"
        label="Item"
        :error="fields.itemId"
        @chosen="choose($event.id)"
      />
      <UiChoice
        v-model="form.binId"
        label="Found in"
        :options="references.bins.map((b) => ({ value: b.id, name: b.name }))"
        :error="fields.binId"
      />
      <UiTextField v-if="tracking === 'lot'" v-model="form.lot" label="Lot" :error="fields.lot" />
      <UiTextField v-if="tracking === 'piece'" v-model="form.piece" label="Piece" :error="fields.piece" />
    </div>
    <p class="mt-3 text-soft">A lot or piece that the books do not know is entered as a correction first.</p>
  </UiDialog>
</template>
