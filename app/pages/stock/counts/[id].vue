<script setup lang="ts">
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const notices = useNotices()
const { day, money } = usePrint()
const review = ref('')
const { data: count, refresh } = orNotFound(
  await useFetch(() => `/api/stock/counts/${id.value}`, { query: computed(() => ({ review: review.value })) }),
)
const { busy, detail, run } = useAct()
const asking = ref(false)
const uncounted = ref<'refuse' | 'leave'>('refuse')
const adding = ref(false)
useHead({ title: () => `${count.value?.number} · Tsumiki` })
const lines = computed(() => count.value?.lines ?? [])
const counted = computed(() => lines.value.filter((line) => line.counted !== null))
const again = computed(() => lines.value.filter((line) => line.recount && line.counted === null))
const off = computed(() => counted.value.filter((line) => line.booked !== null && line.booked !== line.counted))
const worth = computed(() => off.value.reduce((sum, line) => sum + BigInt(line.worth ?? '0'), 0n))
const isOpen = computed(() => count.value?.status === 'open')

async function record(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/stock/counts/${id.value}/approve`, {
      method: 'POST',
      body: { key, version: count.value!.version, uncounted: uncounted.value },
    }),
  )
  if (!done) {
    return
  }
  asking.value = false
  notices.say({
    kind: 'done',
    postingId: done.postingId ?? undefined,
    text: `${count.value!.number} is recorded: ${done.differences} ${plural(done.differences, 'difference', 'differences')}.`,
  })
  void refreshToday()
  await refresh()
}
async function cancel(): Promise<void> {
  if (
    await run(() =>
      $fetch(`/api/stock/counts/${id.value}/cancel`, { method: 'POST', body: { version: count.value!.version } }),
    )
  ) {
    await refresh()
  }
}
async function takeFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) {
    return
  }
  const done = await run(async () =>
    $fetch(`/api/stock/counts/${id.value}/file`, {
      method: 'POST',
      body: { fileName: file.name, content: await asBase64(file) },
    }),
  )
  if (done) {
    notices.say({
      kind: 'done',
      text: `${done.entered} lines taken in${done.again.length ? `, ${done.again.length} to count again` : ''}.`,
    })
  }
  await refresh()
}
</script>

<template>
  <div v-if="count">
    <UiHead
      :title="`${count.number}  ${count.name}`"
      :summary="`Opened ${day(count.openedOn)} by ${count.who}${count.approver ? `, recorded ${day(count.approvedOn)} by ${count.approver}` : ''}. ${counted.length} of ${lines.length} lines counted.`"
    >
      <UiTag v-if="!isOpen" :tone="count.status === 'recorded' ? 'good' : 'plain'">{{ count.status }}</UiTag>
      <a
        :href="`/api/stock/counts/${count.id}/print`"
        target="_blank"
        class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3.5 font-medium hover:bg-wash"
        >Sheet (PDF)</a
      >
      <a :href="`/api/stock/counts/${count.id}/sheet`" download class="text-soft underline">Sheet as CSV</a>
      <template v-if="isOpen && session.allows('stock')">
        <label
          class="inline-flex h-9 cursor-pointer items-center rounded-block border border-line bg-sheet px-3.5 font-medium hover:bg-wash focus-within:outline-2"
          >Import a filled-in sheet<input
            type="file"
            accept=".csv,.xlsx"
            class="sr-only"
            aria-label="Import a filled-in sheet"
            @change="takeFile"
        /></label>
        <UiButton :busy="busy" @click="cancel">Cancel it</UiButton>
        <UiButton v-if="count.hidden && session.person?.role === 'owner'" @click="review = 'yes'"
          >Show the differences</UiButton
        >
        <UiButton v-if="counted.length > 0 && again.length === 0" primary @click="asking = true"
          >Record the count</UiButton
        >
      </template>
    </UiHead>
    <UiProblem :text="asking ? '' : detail" class="mb-3" />
    <p v-if="again.length > 0" class="mb-3 flex items-center gap-2 font-medium">
      <GoodsBlock state="missing" class="h-4 w-8" />{{ again.length }}
      {{ plural(again.length, 'line is', 'lines are') }} to be counted again, best by somebody else.
    </p>
    <p v-if="!count.hidden && counted.length > 0" class="mb-3" data-test="differences">
      {{ off.length }} {{ plural(off.length, 'difference', 'differences')
      }}<template v-if="session.allows('costs')"
        >, worth <b class="font-semibold">{{ money(worth) }}</b></template
      >
    </p>
    <StockCountSheet :count="count" @entered="refresh" @add="adding = true" />
    <StockPostings v-if="count.postings.length" class="mt-4" :postings="count.postings" @reversed="refresh" />
    <UiDialog
      v-model="asking"
      records
      :title="`Record ${count.number}?`"
      act="Record the count"
      :busy="busy"
      :problem="detail"
      @act="record"
    >
      <p v-if="count.hidden">All differences are recorded as one act, each at its cost. It can be reversed.</p>
      <p v-else>
        {{ off.length }} {{ plural(off.length, 'difference', 'differences') }}
        <template v-if="session.allows('costs')">worth {{ money(worth) }} </template>are recorded as one act. It can be
        reversed.
      </p>
      <div v-if="counted.length < lines.length" class="mt-3">
        <UiChoice
          v-model="uncounted"
          label="Lines that nobody counted"
          :options="[
            { value: 'refuse', name: 'must be counted first' },
            { value: 'leave', name: 'stay as the books have them' },
          ]"
        />
      </div>
    </UiDialog>
    <StockCountAdd
      v-if="adding"
      :count-id="count.id"
      @done="
        () => {
          adding = false
          refresh()
        }
      "
      @close="adding = false"
    />
  </div>
</template>
