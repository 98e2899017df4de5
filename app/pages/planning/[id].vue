<script setup lang="ts">
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const notices = useNotices()
const sheets = useSheets()
const { day } = usePrint()
const { data: plan, refresh } = orNotFound(await useFetch(() => `/api/planning/plans/${id.value}`))
const tab = ref('board')
const { busy, detail, run } = useAct()
useHead({ title: () => `${plan.value?.name} · Tsumiki` })

const proposed = computed(() => plan.value?.orders.filter(order => order.state === 'proposed').length ?? 0)
const tabs = computed(() => [{ key: 'board', name: 'Plan board' }, { key: 'orders', name: 'Planned orders', count: proposed.value }, { key: 'messages', name: 'Messages', count: plan.value?.messages.length }])
useKeys([{ key: 'b', says: 'plan board', act: () => { tab.value = 'board' } }, { key: 'o', says: 'planned orders', act: () => { tab.value = 'orders' } }, { key: 'm', says: 'messages', act: () => { tab.value = 'messages' } }])

async function again(path: 'run' | 'adopt'): Promise<void> {
  if (!await run(() => $fetch(path === 'run' ? `/api/planning/plans/${id.value}/run` : `/api/planning/plans/${id.value}/adopt`, { method: 'POST' }))) return
  notices.say({ kind: 'done', text: path === 'run' ? 'Computed anew on what is there now.' : 'This is the working plan now.' })
  void refreshToday()
  await refresh()
}
</script>

<template>
  <div v-if="plan">
    <UiHead :title="plan.name" :says="`${day(plan.startsOn)} to ${day(plan.endsOn)} · ${Object.keys(plan.items).length} items move, ${plan.orders.filter(o => o.state === 'proposed' && o.lateBy > 0).length} planned orders are late`">
      <template #title>{{ plan.name }} <UiTag :tone="plan.kind === 'working' ? 'good' : 'plain'">{{ plan.kind }} plan</UiTag></template>
      <UiButton v-if="session.allows('plan') && plan.kind === 'trial'" @click="again('adopt')">Make it the working plan</UiButton>
      <UiButton v-if="session.allows('plan')" :busy="busy" @click="again('run')">Plan again</UiButton>
    </UiHead>
    <UiProblem :text="detail" class="mb-3" />
    <UiTabs v-model="tab" :tabs="tabs" />
    <PlanningBoard v-if="tab === 'board'" :plan="plan" />
    <PlanningOrders v-else-if="tab === 'orders'" :plan="plan" @changed="refresh()" />
    <UiSheet v-else flush>
      <ul>
        <li v-for="(message, index) in plan.messages" :key="index" class="grid grid-cols-[5rem_7rem_1fr] gap-3 border-b border-line/60 px-4 py-2 last:border-0"><span class="text-soft">{{ day(message.day) }}</span><UiTag class="justify-self-start" :tone="['short', 'late order', 'past due', 'no source', 'no BOM', 'no conversion'].includes(message.code) ? 'problem' : 'plain'">{{ message.code }}</UiTag><button type="button" class="text-left hover:underline" @click="sheets.open(message.itemId)">{{ message.text }}</button></li>
      </ul>
      <UiEmpty v-if="plan.messages.length === 0" title="Nothing to say" says="No order is late, nothing is short, nothing will expire." />
    </UiSheet>
  </div>
</template>
