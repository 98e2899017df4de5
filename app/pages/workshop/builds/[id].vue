<script setup lang="ts">
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { day, isPast, money, amount } = usePrint()
const { data: build, refresh } = orNotFound(await useFetch(() => `/api/workshop/builds/${id.value}`))
const asking = ref(false)
const bins = computed(() => references.bins.filter(bin => !bin.closedToReceiving))
const form = reactive({ binId: bins.value.find(bin => bin.code === 'FIN')?.id ?? bins.value[0]?.id ?? null, lot: build.value?.number ?? '', expiresOn: '' })
const { busy, detail, fields, code, run } = useAct()
useHead({ title: () => `${build.value?.number} · Tsumiki` })

const verb = computed(() => build.value?.source === 'kit' ? 'Pack' : 'Build')
const isShort = computed(() => build.value?.components.some(part => part.missing !== '0') ?? false)
const act = computed(() => `${verb.value} ${amount(build.value?.quantity ?? '0')}`)
async function changed(): Promise<void> { void refreshToday(); await refresh() }
async function complete(): Promise<void> {
  const done = await run(key => $fetch(`/api/workshop/builds/${id.value}/complete`, { method: 'POST', body: { key, version: build.value!.version, binId: form.binId, lot: form.lot, expiresOn: form.expiresOn || null } }))
  if (!done) return
  asking.value = false
  notices.say({ kind: 'done', postingId: done.postingId, text: `${act.value} ${build.value!.code} recorded${done.lot ? ` as lot ${done.lot}` : ''}, worth ${money(done.value)}.` })
  await changed()
}
async function cancel(): Promise<void> { if (await run(() => $fetch(`/api/workshop/builds/${id.value}/cancel`, { method: 'POST', body: { version: build.value!.version } }))) await changed() }
useKeys([{ key: 'b', says: 'record the build', act: () => { if (build.value?.status === 'planned' && !isShort.value) asking.value = true } }])
</script>

<template>
  <div v-if="build">
    <UiHead :title="`${build.number}  ${verb} ${amount(build.quantity)} ${build.symbol} ${build.code}`" :says="`${build.name} · by revision ${build.revision}`">
      <span :class="build.status === 'planned' && isPast(build.dueOn) ? 'font-semibold text-brick' : 'font-semibold'">due {{ day(build.dueOn) }}</span>
      <UiTag v-if="build.status !== 'planned'" :tone="build.status === 'done' ? 'good' : 'plain'">{{ build.status }}</UiTag>
      <template v-else-if="session.allows('make')"><UiButton :busy="busy" @click="cancel">Cancel the build</UiButton><UiButton primary :disabled="isShort" :title="isShort ? 'Some components are missing' : undefined" @click="asking = true">{{ act }}</UiButton></template>
    </UiHead>
    <UiProblem :text="asking ? '' : detail" class="mb-3" />
    <UiSheet :title="build.status === 'planned' ? 'What it will take' : 'What it took'" flush class="mb-4">
      <template #head><span v-if="build.work !== '0'" class="text-soft">and work worth {{ money(build.work) }}</span></template>
      <StockTakes v-if="build.components.length" :components="build.components" :done="build.status !== 'planned'" />
      <UiEmpty v-else title="Nothing" says="This job took nothing." />
    </UiSheet>
    <StockActs :acts="build.acts" @reversed="changed" />
    <UiConfirm v-model="asking" wide :title="`${act} ${build.symbol} ${build.code}?`" :act="act" :busy="busy" :problem="Object.keys(fields).length ? '' : detail" @act="complete">
      <div class="mb-3 grid grid-cols-3 gap-3">
        <FormSelect v-model="form.binId" label="Into" :options="bins.map(bin => ({ value: bin.id, name: bin.name }))" :error="fields.binId" />
        <FormText v-if="build.tracking === 'lot'" v-model="form.lot" label="Lot" :error="fields.lot" />
        <FormText v-if="build.tracking === 'lot'" v-model="form.expiresOn" label="Expires on" type="date" :error="fields.expiresOn" />
      </div>
      <p class="mb-3 flex items-center gap-2"><GoodsBlock state="on hand" class="h-4 w-8" />{{ build.code }}: {{ amount(build.onHand) }} → <b class="font-semibold" data-test="after">{{ amount(build.after) }} {{ build.symbol }}</b></p>
      <StockTakes :components="build.components" />
      <UiButton v-if="code === 'stale-version'" class="mt-2" @click="refresh()">Reload</UiButton>
    </UiConfirm>
  </div>
</template>
