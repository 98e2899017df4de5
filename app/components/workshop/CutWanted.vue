<script setup lang="ts">
import type { MeasuredItem } from '~/composables/ui/use-measure'

export interface WantedRow {
  job: string
  quantity: string
  unit: string
  count: string
}
defineProps<{ item: MeasuredItem | null; fields: Readonly<Record<string, string>>; disabled: boolean; unit: string }>()
const rows = defineModel<WantedRow[]>({ required: true })
const emit = defineEmits<{ changed: [] }>()
const add = (): void => {
  const last = rows.value.at(-1)
  rows.value = [...rows.value, { job: last?.job ?? '', quantity: '', unit: last?.unit ?? 'cm', count: '1' }]
}
/** Rows of a spreadsheet: job, length, how many; or length and how many; or lengths alone. */
function paste(event: ClipboardEvent, index: number): void {
  const lines = (event.clipboardData?.getData('text') ?? '')
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
    .map((line) => line.split(/\t|;/).map((cell) => cell.trim()))
  if (lines.length < 2 && (lines[0]?.length ?? 0) < 2) {
    return
  }
  event.preventDefault()
  const unit = rows.value[index]?.unit ?? 'cm'
  const pasted = lines.map((cells): WantedRow =>
    cells.length >= 3
      ? { job: cells[0]!, quantity: cells[1]!, unit, count: cells[2]! }
      : { job: rows.value[index]?.job ?? '', quantity: cells[0]!, unit, count: cells[1] ?? '1' },
  )
  rows.value = [...rows.value.slice(0, index), ...pasted, ...rows.value.slice(index + 1)]
  emit('changed')
}
</script>

<template>
  <div>
    <div class="grid grid-cols-1 md:grid-cols-[1fr_10rem_4.5rem_1.5rem] gap-2 text-fine text-soft">
      <span>For</span><span>Length</span><span class="text-right">How many</span>
    </div>
    <div
      v-for="(row, index) in rows"
      :key="index"
      class="grid grid-cols-1 md:grid-cols-[1fr_10rem_4.5rem_1.5rem] items-start gap-2 py-1"
      @paste="paste($event, index)"
      @change="emit('changed')"
    >
      <UiTextField
        v-model="row.job"
        hide-label
        :label="`Job of length ${index + 1}`"
        :disabled="disabled"
        :error="fields[`wanted.${index}.job`]"
      />
      <UiQuantityField
        v-model="row.quantity"
        v-model:unit="row.unit"
        hide-label
        :label="`Length ${index + 1}`"
        :item="item"
        :error="fields[`wanted.${index}.quantity`]"
      />
      <UiTextField
        v-model="row.count"
        right
        hide-label
        :label="`How many of length ${index + 1}`"
        :disabled="disabled"
        :error="fields[`wanted.${index}.count`]"
      />
      <UiButton
        v-if="!disabled"
        small
        class="mt-1"
        :aria-label="`Leave length ${index + 1} out`"
        @click="
          () => {
            rows = rows.filter((_, i) => i !== index)
            emit('changed')
          }
        "
        >×</UiButton
      >
    </div>
    <UiButton v-if="!disabled" small class="mt-1" @click="add">Another length</UiButton>
  </div>
</template>
