<script setup lang="ts">
import type { HistoryAnswer } from '~~/shared/demand/history'

const props = defineProps<{ itemId: number | null; history: HistoryAnswer | null }>()
const emit = defineEmits<{ changed: [] }>()
const notices = useNotices()
const { day, amount, asTyped } = usePrint()
const act = useAct()
const correcting = reactive({ open: false, firstOn: '', lastOn: '', sold: '', quantity: '', reason: '' })
function begin(row: HistoryAnswer['periods'][number]): void {
  const correction = correctionFor(props.history, row)
  Object.assign(correcting, {
    open: true,
    firstOn: row.first,
    lastOn: row.last,
    sold: row.quantity ?? '0',
    quantity: correction?.quantity ?? row.quantity ?? '0',
    reason: correction?.reason ?? '',
  })
}
async function correct(): Promise<void> {
  if (
    !(await act.run(() =>
      $fetch('/api/demand/history/corrections', {
        method: 'POST',
        body: {
          itemId: props.itemId,
          firstOn: correcting.firstOn,
          lastOn: correcting.lastOn,
          quantity: correcting.quantity,
          reason: correcting.reason,
        },
      }),
    ))
  ) {
    return
  }
  correcting.open = false
  notices.say({
    kind: 'done',
    text: `${day(correcting.firstOn)} – ${day(correcting.lastOn)} counts as ${amount(correcting.quantity)} in forecasts. The books are as they were.`,
  })
  emit('changed')
}
defineExpose({ begin })
</script>

<template>
  <UiDialog
    v-model="correcting.open"
    title="What this month counts as"
    :act="`Count it as ${asTyped(correcting.quantity) || '…'}`"
    :busy="act.busy.value"
    :problem="Object.keys(act.fields.value).length ? '' : act.detail.value"
    @act="correct"
  >
    <p class="mb-3">
      {{ day(correcting.firstOn) }} – {{ day(correcting.lastOn) }}: {{ amount(correcting.sold || '0') }}
      {{ history?.symbol }} sold. Stock and books stay as they are; only forecasts read it differently.
    </p>
    <div class="grid grid-cols-[9rem_1fr] gap-3">
      <UiTextField
        v-model="correcting.quantity"
        label="Counts as"
        right
        :error="act.fields.value.quantity ?? act.fields.value.firstOn"
      /><UiTextField
        v-model="correcting.reason"
        label="Why"
        placeholder="One large order that will not come again"
        :error="act.fields.value.reason"
      />
    </div>
  </UiDialog>
</template>
