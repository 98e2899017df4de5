<script setup lang="ts">
import { LABEL_SHEETS, SYMBOLOGIES } from '~~/shared/catalogue/words'

interface Wanted {
  readonly id: number
  readonly code: string
  readonly units: readonly { value: string; name: string }[]
}
const props = defineProps<{ items: readonly Wanted[] }>()
const emit = defineEmits<{ close: [] }>()
const { busy, detail, fields, run } = useAct()
const form = reactive({ symbology: 'Code 128' as string, sheet: 'A4, 3 × 8' as string, skip: '0' })
const lines = ref(props.items.map((item) => ({ id: item.id, unit: item.units[0]!.value, copies: '1' })))
const open = computed({ get: () => true, set: () => emit('close') })
const count = computed(() => lines.value.reduce((sum, line) => sum + (Number(line.copies) || 0), 0))
const url = ref('')
onUnmounted(() => URL.revokeObjectURL(url.value))

async function print(): Promise<void> {
  const file = await run(() =>
    $fetch<Blob>('/api/catalogue/labels', {
      method: 'POST',
      responseType: 'blob',
      body: { ...form, items: lines.value },
    }),
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
    :problem="fields.symbology ? '' : detail"
    @act="print"
  >
    <div class="grid grid-cols-2 md:grid-cols-3 gap-3">
      <UiChoice
        v-model="form.symbology"
        label="Barcode"
        :error="fields.symbology"
        :options="SYMBOLOGIES.map((s) => ({ value: s, name: s }))"
      />
      <UiChoice
        v-model="form.sheet"
        label="Labels"
        :options="LABEL_SHEETS.map((s) => ({ value: s, name: s.startsWith('A4') ? `${s} on a sheet` : `${s} mm` }))"
      />
      <UiTextField
        v-model="form.skip"
        label="Begin after label"
        right
        hint="for a sheet that is begun"
        :error="fields.skip"
      />
    </div>
    <ul class="mt-4 grid gap-2">
      <li v-for="(line, index) in lines" :key="line.id" class="grid grid-cols-[8rem_1fr_6rem] items-end gap-3">
        <b class="pb-2 font-medium">{{ items[index]!.code }}</b>
        <UiChoice v-model="line.unit" :label="`For one`" :options="items[index]!.units" /><UiTextField
          v-model="line.copies"
          label="How many"
          right
          :error="fields[`items.${index}.copies`]"
        />
      </li>
    </ul>
    <p v-if="url" class="mt-3"><a :href="url" target="_blank" class="underline">Open the labels (PDF)</a></p>
  </UiDialog>
</template>
