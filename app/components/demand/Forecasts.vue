<script setup lang="ts">
import type { DataColumn } from '~/composables/ui/data-column'
import { toDay, toIso } from '~~/core/calendar/days'
import { periodOf, type Step } from '~~/core/calendar/periods'

const session = useSession()
defineExpose({ begin })
const { data: list, error } = await useFetch('/api/demand/forecasts')
const form = reactive({ open: false, name: '', step: 'month' as Step, firstOn: '', lastOn: '' })
const { busy, detail, fields, run } = useAct()

function begin(): void {
  const first = periodOf(toIso(toDay(periodOf(session.today, 'month').last) + 1), 'month').first
  Object.assign(form, { open: true, name: '', step: 'month', firstOn: first, lastOn: toIso(toDay(first) + 91) })
}
async function make(): Promise<void> {
  const made = await run(() =>
    $fetch('/api/demand/forecasts', {
      method: 'POST',
      body: { name: form.name, step: form.step, firstOn: form.firstOn, lastOn: form.lastOn, note: '' },
    }),
  )
  if (made) {
    await navigateTo(`/demand/forecasts/${made.id}`)
  }
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'name', name: 'Forecast', isFixed: true },
  { key: 'firstOn', name: 'From', kind: 'day' },
  { key: 'lastOn', name: 'Until', kind: 'day' },
  { key: 'step', name: 'Periods', width: 100 },
  { key: 'items', name: 'Items', kind: 'number' },
  { key: 'note', name: 'Note', wrap: true },
]
</script>

<template>
  <UiSheet flush>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiDataTable
      v-if="list?.length"
      list="forecasts"
      :columns="COLUMNS"
      :rows="list"
      label="Forecasts"
      :open="(row) => navigateTo(`/demand/forecasts/${row.id}`)"
    >
      <template #name="{ row }"
        ><NuxtLink :to="`/demand/forecasts/${row.id}`" class="font-medium hover:underline">{{
          row.name
        }}</NuxtLink></template
      >
    </UiDataTable>
    <UiEmptyState
      v-else
      title="No forecast yet"
      summary="A forecast says by day, week or month what is expected to be asked for. Plans add it to the orders, and orders use it up."
      ><UiButton v-if="session.allows('demand')" primary @click="begin">Begin a forecast</UiButton></UiEmptyState
    >
    <UiDialog
      v-model="form.open"
      title="New forecast"
      act="Begin the forecast"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="make"
    >
      <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
        <UiTextField v-model="form.name" label="Name" :error="fields.name" placeholder="First quarter" />
        <UiChoice
          v-model="form.step"
          label="By"
          :error="fields.step"
          :options="[
            { value: 'day', name: 'day' },
            { value: 'week', name: 'week' },
            { value: 'month', name: 'month' },
          ]"
        />
        <UiDateField v-model="form.firstOn" label="From" :error="fields.firstOn" /><UiDateField
          v-model="form.lastOn"
          label="To"
          :error="fields.lastOn"
        />
      </div>
      <p class="mt-3 text-fine text-soft">The ends are moved out to whole {{ form.step }}s.</p>
    </UiDialog>
  </UiSheet>
</template>
