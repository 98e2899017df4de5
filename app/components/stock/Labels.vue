<script setup lang="ts">
import { LABEL_SHEETS } from '~~/shared/catalogue/words'

const props = defineProps<{ things: readonly { lotId: number | null; pieceId: number | null; name: string }[] }>()
const emit = defineEmits<{ close: [] }>()
const { busy, detail, fields, run } = useAct()
const form = reactive({ symbology: 'Code 128' as string, sheet: 'roll 62 × 29' as string, skip: '0' })
const lines = ref(props.things.map(({ lotId, pieceId }) => ({ lotId, pieceId, copies: '1' })))
const open = computed({ get: () => true, set: () => emit('close') })
const count = computed(() => lines.value.reduce((sum, line) => sum + (Number(line.copies) || 0), 0))
const url = ref('')
onUnmounted(() => URL.revokeObjectURL(url.value))
async function print(): Promise<void> {
  const file = await run(() =>
    $fetch<Blob>('/api/stock/labels', { method: 'POST', responseType: 'blob', body: { ...form, things: lines.value } }),
  )
  if (!file) {
    return
  }
  url.value = URL.createObjectURL(file)
  window.open(url.value)
}
</script>

<template>
  <UiDialog
    v-model="open"
    title="Print labels"
    :act="`Make ${count} ${plural(count, 'label', 'labels')}`"
    :busy="busy"
    :problem="detail"
    @act="print"
  >
    <div class="grid grid-cols-2 md:grid-cols-3 gap-3">
      <UiChoice
        v-model="form.symbology"
        label="Barcode"
        :options="[
          { value: 'Code 128', name: 'Code 128' },
          { value: 'QR', name: 'QR' },
        ]"
      />
      <UiChoice
        v-model="form.sheet"
        label="Labels"
        :options="LABEL_SHEETS.map((s) => ({ value: s, name: s.startsWith('A4') ? `${s} on a sheet` : `${s} mm` }))"
      />
      <UiTextField v-model="form.skip" label="Begin after label" right :error="fields.skip" />
    </div>
    <ul class="mt-4 grid gap-2">
      <li v-for="(line, index) in lines" :key="index" class="grid grid-cols-[1fr_6rem] items-end gap-3">
        <b class="pb-2 font-medium">{{ things[index]!.name }}</b><UiTextField
          v-model="line.copies"
          label="How many"
          right
          :error="fields[`things.${index}.copies`]"
        />
      </li>
    </ul>
    <p v-if="url" class="mt-3"><a :href="url" target="_blank" class="underline">Open the labels (PDF)</a></p>
  </UiDialog>
</template>
