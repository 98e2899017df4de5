<script setup lang="ts">
import { toDay, toIso } from '~~/core/calendar'
import { DEMAND_RULES } from '~~/shared/planning'

const session = useSession()
const { day } = usePrint()
const { data: plans, error } = await useFetch('/api/planning/plans')
const { data: forecasts } = await useFetch('/api/demand/forecasts')
const form = reactive({ name: '', kind: 'working' as 'trial' | 'working', endsOn: toIso(toDay(session.today) + 84), demandRule: 'larger', forecastFalls: 'first day', forecastIds: [] as number[] })
form.forecastIds = forecasts.value?.slice(0, 1).map(f => f.id) ?? []
const open = ref(false)
const { busy, detail, fields, run } = useAct()
useHead({ title: 'Plan · Tsumiki' })

function begin(): void { form.name = `Plan of ${day(session.today)}`; form.kind = plans.value?.some(p => p.kind === 'working') ? 'trial' : 'working'; open.value = true }
useKeys([{ key: 'n', says: 'make a plan', act: begin }])
async function make(): Promise<void> {
  const made = await run(() => $fetch('/api/planning/plans', { method: 'POST', body: form }))
  if (!made) return
  void refreshToday()
  await navigateTo(`/planning/${made.id}`)
}
const RULES: Readonly<Record<string, string>> = { 'larger': 'orders use up the forecast', 'both': 'orders and forecast added', 'orders only': 'orders only', 'forecast only': 'forecast only' }
const COLUMNS = [{ key: 'name', name: 'Plan' }, { key: 'kind', name: 'Kind' }, { key: 'span', name: 'From – to' }, { key: 'demandRule', name: 'Demand' }, { key: 'proposed', name: 'Proposes', right: true }, { key: 'late', name: 'Late', right: true }, { key: 'who', name: 'Who' }]
</script>

<template>
  <div>
    <UiHead title="Plan" says="What will run short, when, why, and what to buy or make about it."><UiButton v-if="session.allows('plan')" primary @click="begin">Make a plan</UiButton></UiHead>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiTable v-if="plans?.length" :columns="COLUMNS" :rows="plans" label="Plans" :open="row => navigateTo(`/planning/${row.id}`)">
        <template #name="{ row }"><NuxtLink :to="`/planning/${row.id}`" class="font-medium hover:underline">{{ row.name }}</NuxtLink></template>
        <template #kind="{ row }"><UiTag :tone="row.kind === 'working' ? 'good' : 'plain'">{{ row.kind }} plan</UiTag></template>
        <template #span="{ row }">{{ day(row.startsOn) }} – {{ day(row.endsOn) }}</template>
        <template #demandRule="{ row }">{{ RULES[row.demandRule] }}</template>
        <template #proposed="{ row }">{{ row.proposed }} {{ row.proposed === 1 ? 'order' : 'orders' }}</template>
        <template #late="{ row }"><span :class="row.late > 0 && 'font-semibold text-brick'">{{ row.late || '' }}</span></template>
      </UiTable>
      <UiEmpty v-else title="No plan yet" says="A plan looks at stock, open orders, the forecast and every bill, and says what to buy, build and break down, with the reason for each. Nothing happens until you release."><UiButton v-if="session.allows('plan')" primary @click="begin">Make the first plan</UiButton></UiEmpty>
    </UiSheet>
    <UiConfirm v-model="open" title="Make a plan" act="Compute the plan" :busy="busy" :problem="Object.keys(fields).length ? '' : detail" @act="make">
      <div class="grid grid-cols-2 gap-3">
        <FormText v-model="form.name" label="Name" :error="fields.name" />
        <FormSelect v-model="form.kind" label="Kind" :error="fields.kind" :options="[{ value: 'working', name: 'Working plan: can be released' }, { value: 'trial', name: 'Trial plan: to study, releases nothing' }]" />
        <FormText v-model="form.endsOn" label="Plan to" type="date" :error="fields.endsOn" />
        <FormSelect v-model="form.demandRule" label="Demand" :error="fields.demandRule" :options="DEMAND_RULES.map(rule => ({ value: rule, name: RULES[rule]! }))" />
        <fieldset class="text-fine"><legend class="mb-1 text-soft">Forecasts that count</legend><p v-if="!forecasts?.length" class="text-soft">There is none yet.</p><div v-else class="max-h-24 space-y-0.5 overflow-y-auto"><FormCheck v-for="f in forecasts" :key="f.id" :model-value="form.forecastIds.includes(f.id)" :label="f.name" @update:model-value="on => { form.forecastIds = on ? [...form.forecastIds, f.id] : form.forecastIds.filter(id => id !== f.id) }" /></div></fieldset>
        <FormSelect v-model="form.forecastFalls" label="A week's forecast falls" :options="[{ value: 'first day', name: 'on its first day' }, { value: 'spread', name: 'spread over its working days' }]" />
      </div>
    </UiConfirm>
  </div>
</template>
