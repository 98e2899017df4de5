<script setup lang="ts">
import type { TraitRule } from '~~/shared/stock/answers'
const props = defineProps<{
  piece: {
    id: number
    label: string
    version: number
    traits: Record<string, string>
    note: string
    rules: readonly TraitRule[]
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ label: props.piece.label, note: props.piece.note })
const traits = ref<Record<string, string>>({ ...props.piece.traits })
async function save(): Promise<void> {
  if (
    await run(() =>
      $fetch(`/api/stock/pieces/${props.piece.id}`, {
        method: 'PUT',
        body: { version: props.piece.version, ...form, traits: traits.value },
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
    :title="`What is recorded of piece ${piece.label}`"
    act="Keep"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiTextField v-model="form.label" label="Label" :error="fields.label" />
      <UiTextField v-model="form.note" label="Note" :error="fields.note" />
      <StockTraitFields v-model="traits" :rules="piece.rules" :fields="fields" />
    </div>
  </UiDialog>
</template>
