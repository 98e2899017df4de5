<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import { toDay, toIso } from '~~/core/calendar/days'
import type { NewPlan } from '~~/shared/planning/requests'
import { ALL_OF_IT } from '~~/shared/planning/words'

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
type Row = NonNullable<typeof plans.value>[number]
const COLUMNS: readonly DataColumn[] = [
  { key: 'name', name: 'Plan', isFixed: true },
  { key: 'kind', name: 'Kind', width: 130 },
  { key: 'startsOn', name: 'From', kind: 'day', width: 90 },
  { key: 'endsOn', name: 'Until', kind: 'day', width: 90 },
  { key: 'demandRule', name: 'Demand', width: 230, text: (row: Row) => RULES[row.demandRule] ?? '' },
  { key: 'proposed', name: 'Planned orders', kind: 'number', width: 130 },
  { key: 'late', name: 'Late', kind: 'number', width: 70 },
  { key: 'who', name: 'Who', width: 90 },
]
</script>

<template>
  <div>
    <UiHead title="Plan" summary="What will run short, when, why, and what to buy or make about it."
      ><UiButton v-if="session.allows('plan')" primary @click="begin">Make a plan</UiButton></UiHead
    >
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiDataTable
        v-if="plans?.length"
        list="plans"
        label="Plans"
        is-choosable
        :choose-label="(row) => `Choose ${row.name}`"
        :columns="COLUMNS"
        :rows="plans"
        :open="(row) => navigateTo(`/planning/${row.id}`)"
      >
        <template #acts="{ chosen }"
          ><UiButton
            :disabled="chosen.length < 2 || chosen.length > 4"
            @click="navigateTo(`/planning/compare?plans=${chosen.map((plan) => plan.id).join()}`)"
            >Compare {{ chosen.length >= 2 ? chosen.length : 'two to four' }}</UiButton
          ></template
        >
        <template #name="{ row }"
          ><NuxtLink :to="`/planning/${row.id}`" class="font-medium hover:underline">{{ row.name }}</NuxtLink
          ><span v-if="row.changes" class="ml-2 text-fine text-soft">{{ row.changes }} tried out</span></template
        >
        <template #kind="{ row }"
          ><UiTag :tone="row.kind === 'working' ? 'good' : 'plain'">{{ row.kind }} plan</UiTag></template
        >
        <template #late="{ row }"
          ><span :class="row.late > 0 && 'font-semibold text-brick'">{{ row.late || '' }}</span></template
        >
      </UiDataTable>
      <UiEmptyState
        v-else
        title="No plan yet"
        summary="A plan looks at stock, open orders, the forecast and every bill, and says what to buy, build and break down, with the reason for each. Nothing happens until you release."
        ><UiButton v-if="session.allows('plan')" primary @click="begin">Make the first plan</UiButton></UiEmptyState
      >
    </UiSheet>
    <UiDialog
      v-model="open"
      wide
      title="Make a plan"
      act="Compute the plan"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="make"
    >
      <UiChoice
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
    </UiDialog>
  </div>
</template>
