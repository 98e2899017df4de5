<script setup lang="ts">
import { LINES_WITH_TOOLS, type DataColumn } from '~/composables/ui/data-column'

const session = useSession()
const notices = useNotices()
const { money, digits } = usePrint()
const { data: differences, refresh: check, status } = await useFetch('/api/stock/comparison', { immediate: false })
const asked = ref(false)
const { busy, detail, run, clear } = useAct()
const rows = computed(() => (differences.value ?? []).map((difference, id) => ({ id, ...difference })))

type Row = (typeof rows.value)[number]
const COLUMNS: readonly DataColumn[] = [
  { key: 'kind', name: 'What is kept', width: 200 },
  { key: 'what', name: 'Of', wrap: true },
  { key: 'kept', name: 'Kept', kind: 'number', width: 180, text: (row: Row) => amount(row.kept, row.unit) },
  {
    key: 'worked',
    name: 'By what was recorded',
    kind: 'number',
    width: 180,
    text: (row: Row) => amount(row.worked, row.unit),
  },
]

function amount(text: string, unit: string | null): string {
  if (unit === null) {
    return text
  }
  return unit === 'money' ? money(text) : `${digits(text)} ${unit}`
}
function ask(): void {
  clear()
  asked.value = true
}
async function mend(): Promise<void> {
  const done = await run(() => $fetch('/api/stock/mend', { method: 'POST' }))
  if (done) {
    asked.value = false
    notices.say({
      kind: 'done',
      text: `${done.differences.length - done.left.length} of ${done.differences.length} mended.`,
    })
    await check()
  }
}
</script>

<template>
  <UiSheet>
    <p class="mb-3 max-w-2xl">
      Balances, what is allocated, values, ends of months and what documents say was received, shipped and made are kept
      with every act. This works all of them out again from what was recorded and names each that differs; none should.
      Nothing is changed by it.
    </p>
    <div class="flex gap-2">
      <UiButton primary :busy="status === 'pending'" @click="check()">Work it all out again</UiButton>
      <UiButton v-if="rows.length > 0 && session.allows('people')" @click="ask">Mend what differs…</UiButton>
    </div>
    <p v-if="differences && rows.length === 0" class="mt-3 flex items-center gap-2 font-medium">
      <GoodsBlock state="on hand" class="h-4 w-8" />Everything agrees with what was recorded.
    </p>
    <template v-else-if="differences">
      <p class="mt-4 mb-2 font-medium text-brick">
        {{ rows.length }} {{ plural(rows.length, 'sum differs', 'sums differ') }} from what was recorded.
      </p>
      <UiDataTable
        list="ledger check"
        is-embedded
        :is-plain="rows.length < LINES_WITH_TOOLS"
        :columns="COLUMNS"
        :rows="rows"
        label="What differs"
      />
    </template>
    <UiDialog
      v-model="asked"
      title="Mend what differs"
      :act="`Mend ${rows.length}`"
      :busy="busy"
      :problem="detail"
      @act="mend"
    >
      <p>
        What is kept is replaced by what was recorded comes to. Recorded moves stay as they are; where their value is
        another, the difference is recorded as a re-valuation of today. Other postings wait until it is done.
      </p>
    </UiDialog>
  </UiSheet>
</template>
