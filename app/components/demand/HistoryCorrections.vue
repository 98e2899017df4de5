<script setup lang="ts">
import type { HistoryAnswer } from '~~/shared/demand/history'

const props = defineProps<{ itemId: number; history: HistoryAnswer }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const { day, amount } = usePrint()
const act = useAct()
const borrowing = reactive({ open: false, fromItemId: null as number | null, percent: '100', untilOn: '' })
async function takeBack(path: string): Promise<void> {
  if (await act.run(() => $fetch(path, { method: 'DELETE' }))) {
    emit('changed')
  }
}
async function borrow(): Promise<void> {
  const { fromItemId, percent, untilOn } = borrowing
  const body = { itemId: props.itemId, fromItemId, percent, untilOn }
  const done = await act.run(() => $fetch('/api/demand/history/borrowings', { method: 'POST', body }))
  if (done) {
    borrowing.open = false
    emit('changed')
  }
}
</script>

<template>
  <UiSheet title="History adjustments">
    <p v-if="history.corrections.length === 0" class="text-soft">
      Every month counts as it was sold. Click a month to let it count as something else: an order that will not come
      again, a month out of stock.
    </p>
    <ul class="grid gap-2">
      <li v-for="correction in history.corrections" :key="correction.id">
        <b class="font-semibold">{{ day(correction.firstOn) }} – {{ day(correction.lastOn) }}</b> counts as
        {{ amount(correction.quantity) }} {{ history.symbol
        }}<span v-if="correction.reason" class="text-soft">: {{ correction.reason }}</span
        >{{ ' ' }}
        <button
          v-if="session.allows('demand')"
          type="button"
          class="text-soft underline"
          @click="takeBack(`/api/demand/history/corrections/${correction.id}`)"
        >
          take back
        </button>
      </li>
    </ul>
    <div class="mt-3 border-t border-line pt-3">
      <p v-if="history.borrowing">
        Borrows {{ history.borrowing.percent }} % of what
        <UiItemChip :id="history.borrowing.fromItemId" :code="history.borrowing.code" /> sold until
        {{ day(history.borrowing.untilOn) }}.
        <button
          v-if="session.allows('demand')"
          type="button"
          class="text-soft underline"
          @click="takeBack(`/api/demand/history/borrowings/${itemId}`)"
        >
          end it
        </button>
      </p>
      <UiButton
        v-else-if="session.allows('demand')"
        small
        @click="Object.assign(borrowing, { open: true, fromItemId: null, percent: '100', untilOn: session.today })"
        >Borrow another item’s history</UiButton
      >
      <p v-for="loan in history.lentTo" :key="loan.itemId" class="mt-2 text-soft">
        <UiItemChip :id="loan.itemId" :code="loan.code" /> borrows {{ loan.percent }} % of this until
        {{ day(loan.untilOn) }}.
      </p>
    </div>
    <UiProblem :text="borrowing.open ? '' : act.detail.value" />
    <UiDialog
      v-model="borrowing.open"
      title="Borrow another item’s history"
      act="Borrow it"
      :busy="act.busy.value"
      :problem="Object.keys(act.fields.value).length ? '' : act.detail.value"
      @act="borrow"
    >
      <div class="grid grid-cols-1 md:grid-cols-[1fr_7rem_11rem] gap-3">
        <UiItemField v-model="borrowing.fromItemId" label="From" :error="act.fields.value.fromItemId" /><UiTextField
          v-model="borrowing.percent"
          label="Per cent"
          right
          :error="act.fields.value.percent"
        /><UiDateField v-model="borrowing.untilOn" label="Up to" :error="act.fields.value.untilOn" />
      </div>
      <p class="mt-3 text-fine text-soft">
        Up to that day, this share of what the other sold counts as sold of this one, beside its own sales.
      </p>
    </UiDialog>
  </UiSheet>
</template>
