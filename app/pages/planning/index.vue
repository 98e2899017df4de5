<script setup lang="ts">
import { toDay, toIso } from '~~/core/calendar/days'
import { ALL_OF_IT, type NewPlan } from '~~/shared/planning/requests'

const session = useSession()
const { day } = usePrint()
const { data: plans, error } = await useFetch('/api/planning/plans')
const { data: forecasts } = await useFetch('/api/demand/forecasts')
const form = ref<NewPlan>({
  name: '',
  note: '',
  kind: 'working',
  endsOn: toIso(toDay(session.today) + 84),
  demandRule: 'larger',
  forecastFalls: 'first day',
  forecastIds: forecasts.value?.slice(0, 1).map((f) => f.id) ?? [],
  scope: { ...ALL_OF_IT, sites: [], of: [] },
  changes: [],
})
const chosen = ref(new Set<number>())
function pick(id: number): void {
  const next = new Set(chosen.value)
  if (!next.delete(id)) {
    next.add(id)
  }
  chosen.value = next
}
const open = ref(false)
const { busy, detail, fields, run } = useAct()
useHead({ title: 'Plan · Tsumiki' })

function begin(): void {
  form.value.name = `Plan of ${day(session.today)}`
  form.value.kind = plans.value?.some((p) => p.kind === 'working') ? 'trial' : 'working'
  open.value = true
}
useKeys([{ key: 'n', summary: 'make a plan', act: begin }])
async function make(): Promise<void> {
  const made = await run(() => $fetch('/api/planning/plans', { method: 'POST', body: form.value }))
  if (!made) {
    return
  }
  void refreshToday()
  await navigateTo(`/planning/${made.id}`)
}
const RULES: Readonly<Record<string, string>> = {
  larger: 'orders use up the forecast',
  both: 'orders and forecast added',
  'orders only': 'orders only',
  'forecast only': 'forecast only',
}
const COLUMNS = [
  { key: 'pick', name: '' },
  { key: 'name', name: 'Plan' },
  { key: 'kind', name: 'Kind' },
  { key: 'span', name: 'From – to' },
  { key: 'demandRule', name: 'Demand' },
  { key: 'proposed', name: 'Proposes', right: true },
  { key: 'late', name: 'Late', right: true },
  { key: 'who', name: 'Who' },
]
</script>

<template>
  <div>
    <UiHead title="Plan" summary="What will run short, when, why, and what to buy or make about it."
      ><UiButton
        v-if="(plans?.length ?? 0) > 1"
        :disabled="chosen.size < 2 || chosen.size > 4"
        @click="navigateTo(`/planning/compare?plans=${[...chosen].join()}`)"
        >Compare {{ chosen.size >= 2 ? chosen.size : 'two or more' }}</UiButton
      ><UiButton v-if="session.allows('plan')" primary @click="begin">Make a plan</UiButton></UiHead
    >
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiTable
        v-if="plans?.length"
        :columns="COLUMNS"
        :rows="plans"
        label="Plans"
        :open="(row) => navigateTo(`/planning/${row.id}`)"
      >
        <template #pick="{ row }"
          ><input
            type="checkbox"
            class="size-4 accent-[var(--maple)]"
            :checked="chosen.has(row.id)"
            :aria-label="`Choose ${row.name}`"
            @change="pick(row.id)"
        /></template>
        <template #name="{ row }"
          ><NuxtLink :to="`/planning/${row.id}`" class="font-medium hover:underline">{{ row.name }}</NuxtLink
          ><span v-if="row.changes" class="ml-2 text-fine text-soft">{{ row.changes }} tried out</span></template
        >
        <template #kind="{ row }"
          ><UiTag :tone="row.kind === 'working' ? 'good' : 'plain'">{{ row.kind }} plan</UiTag></template
        >
        <template #span="{ row }">{{ day(row.startsOn) }} – {{ day(row.endsOn) }}</template>
        <template #demandRule="{ row }">{{ RULES[row.demandRule] }}</template>
        <template #proposed="{ row }">{{ row.proposed }} {{ plural(row.proposed, 'order', 'orders') }}</template>
        <template #late="{ row }"
          ><span :class="row.late > 0 && 'font-semibold text-brick'">{{ row.late || '' }}</span></template
        >
      </UiTable>
      <UiEmpty
        v-else
        title="No plan yet"
        summary="A plan looks at stock, open orders, the forecast and every bill, and says what to buy, build and break down, with the reason for each. Nothing happens until you release."
        ><UiButton v-if="session.allows('plan')" primary @click="begin">Make the first plan</UiButton></UiEmpty
      >
    </UiSheet>
    <UiConfirm
      v-model="open"
      wide
      title="Make a plan"
      act="Compute the plan"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="make"
    >
      <FormSelect
        v-model="form.kind"
        label="Kind"
        class="mb-3 w-80"
        :error="fields.kind"
        :options="[
          { value: 'working', name: 'Working plan: can be released' },
          { value: 'trial', name: 'Trial plan: to study, releases nothing' },
        ]"
      />
      <Suspense><PlanningSettings v-model="form" :fields="fields" /></Suspense>
    </UiConfirm>
  </div>
</template>
