<script setup lang="ts">
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { day, isPast, amount } = usePrint()
const { data: job, refresh } = orNotFound(await useFetch(() => `/api/workshop/break-downs/${id.value}`))
const asking = ref(false)
const bins = computed(() => references.bins.filter(bin => !bin.closedToReceiving))
const binId = ref<number | null>(bins.value[0]?.id ?? null)
const { busy, detail, fields, run } = useAct()
useHead({ title: () => `${job.value?.number} · Tsumiki` })

const isShort = computed(() => job.value?.components.some(part => part.missing !== '0') ?? false)
const act = computed(() => `Break down ${amount(job.value?.take ?? '0')} ${job.value?.symbol ?? ''}`)
const lots = computed(() => [...new Set(job.value?.components.flatMap(part => part.takes.map(take => take.lot)).filter(lot => lot !== null))])
async function changed(): Promise<void> { void refreshToday(); await refresh() }
async function complete(): Promise<void> {
  const done = await run(key => $fetch(`/api/workshop/break-downs/${id.value}/complete`, { method: 'POST', body: { key, version: job.value!.version, binId: binId.value } }))
  if (!done) return
  asking.value = false
  notices.say({ kind: 'done', postingId: done.postingId, text: `${act.value} ${job.value!.code} recorded${done.lots.length ? `; lot ${done.lots.join(', ')} carried over` : ''}.` })
  await changed()
}
async function cancel(): Promise<void> { if (await run(() => $fetch(`/api/workshop/break-downs/${id.value}/cancel`, { method: 'POST', body: { version: job.value!.version } }))) await changed() }
</script>

<template>
  <div v-if="job">
    <UiHead :title="`${job.number}  ${act} ${job.code}`" :says="job.name">
      <span :class="job.status === 'planned' && isPast(job.dueOn) ? 'font-semibold text-brick' : 'font-semibold'">due {{ day(job.dueOn) }}</span>
      <UiTag v-if="job.status !== 'planned'" :tone="job.status === 'done' ? 'good' : 'plain'">{{ job.status }}</UiTag>
      <template v-else-if="session.allows('make')"><UiButton :busy="busy" @click="cancel">Cancel the break-down</UiButton><UiButton primary :disabled="isShort" :title="isShort ? 'The bulk item is missing' : undefined" @click="asking = true">{{ act }}</UiButton></template>
    </UiHead>
    <UiProblem :text="asking ? '' : detail" class="mb-3" />
    <div class="mb-4 grid grid-cols-2 gap-4">
      <UiSheet title="Takes" flush><StockTakes v-if="job.components.length" :components="job.components" /><p v-else class="p-4 text-soft">Done; see the moves below.</p></UiSheet>
      <UiSheet title="Gives" flush>
        <table class="w-full"><tbody><tr v-for="output in job.outputs" :key="output.itemId" class="h-9 border-t border-line/60 first:border-0"><td class="px-3"><UiItemChip :id="output.itemId" :code="output.code" :name="output.name" /></td><td class="px-3 text-right"><UiQty strong :of="output.quantity" :unit="output.symbol" /></td><td v-if="job.status === 'planned'" class="px-3 text-right">{{ amount(output.before, 6) }} → <b class="font-semibold" data-test="after">{{ amount(output.after, 6) }} {{ output.symbol }}</b></td></tr></tbody></table>
      </UiSheet>
    </div>
    <StockActs :acts="job.acts" @reversed="changed" />
    <UiConfirm v-model="asking" wide :title="`${act} ${job.code}?`" :act="act" :busy="busy" :problem="Object.keys(fields).length ? '' : detail" @act="complete">
      <FormSelect v-model="binId" class="mb-3 w-64" label="Into" :options="bins.map(bin => ({ value: bin.id, name: bin.name }))" :error="fields.binId" />
      <StockTakes :components="job.components" />
      <p v-for="output in job.outputs" :key="output.itemId" class="mt-3 flex items-center gap-2"><GoodsBlock state="on hand" class="h-4 w-8" />{{ output.code }}: {{ amount(output.before, 6) }} → <b class="font-semibold">{{ amount(output.after, 6) }} {{ output.symbol }}</b><span v-if="output.tracking === 'lot' && lots.length" class="text-soft">as lot {{ lots.join(', ') }}</span></p>
    </UiConfirm>
  </div>
</template>
