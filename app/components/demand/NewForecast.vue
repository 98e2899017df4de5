<script setup lang="ts">
import { toDay, toIso } from '~~/core/calendar/days'
import { periodOf, type Step } from '~~/core/calendar/periods'

/** The dialog that begins a forecast: from the coming month on, a quarter long, unless said otherwise. */
const open = defineModel<boolean>({ required: true })
const session = useSession()
const form = reactive({ name: '', step: 'month' as Step, firstOn: '', lastOn: '' })
const { busy, detail, fields, run } = useAct()

watch(open, (isOpen) => {
  if (isOpen) {
    const first = periodOf(toIso(toDay(periodOf(session.today, 'month').last) + 1), 'month').first
    Object.assign(form, { name: '', step: 'month', firstOn: first, lastOn: toIso(toDay(first) + 91) })
  }
})
async function make(): Promise<void> {
  const made = await run(() => $fetch('/api/demand/forecasts', { method: 'POST', body: { ...form, note: '' } }))
  if (made) {
    await navigateTo(`/demand/forecasts/${made.id}`)
  }
}
</script>

<template>
  <UiDialog
    v-model="open"
    title="New forecast"
    act="Begin the forecast"
    :busy="busy"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="make"
  >
    <div class="grid grid-cols-1 gap-3 sm:grid-cols-2">
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
</template>
