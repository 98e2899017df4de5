<script setup lang="ts">
import type { ForecastAnswer } from '~~/shared/demand/forecast'

const props = defineProps<{ forecast: ForecastAnswer; rows: number }>()
const notices = useNotices()
const dialog = useAct()
const over = reactive({ copy: false, remove: false })
const copy = reactive({ name: '', shift: '0', percent: '100' })
function openCopy(): void {
  Object.assign(copy, { name: `${props.forecast.name}, what if`, shift: '0', percent: '100' })
  over.copy = true
}
function openRemove(): void {
  over.remove = true
}
async function copyIt(): Promise<void> {
  const made = await dialog.run(() =>
    $fetch(`/api/demand/forecasts/${props.forecast.id}/copy`, {
      method: 'POST',
      body: { name: copy.name, shift: Number(copy.shift), percent: copy.percent },
    }),
  )
  if (made) {
    over.copy = false
    await navigateTo(`/demand/forecasts/${made.id}`)
  }
}
async function removeIt(): Promise<void> {
  if (!(await dialog.run(() => $fetch(`/api/demand/forecasts/${props.forecast.id}`, { method: 'DELETE' })))) {
    return
  }
  notices.say({ kind: 'done', text: `“${props.forecast.name}” is gone.` })
  await navigateTo('/demand?tab=forecasts')
}
defineExpose({ openCopy, openRemove })
</script>

<template>
  <UiDialog
    v-model="over.copy"
    title="Copy as a what-if"
    act="Make the copy"
    :busy="dialog.busy.value"
    :problem="Object.keys(dialog.fields.value).length ? '' : dialog.detail.value"
    @act="copyIt"
  >
    <div class="grid grid-cols-1 md:grid-cols-[1fr_9rem_7rem] gap-3">
      <UiTextField v-model="copy.name" label="Name" :error="dialog.fields.value.name" /><UiTextField
        v-model="copy.shift"
        :label="`Move by ${forecast.step}s`"
        right
        :error="dialog.fields.value.shift"
      /><UiTextField v-model="copy.percent" label="Per cent" right :error="dialog.fields.value.percent" />
    </div>
  </UiDialog>
  <UiDialog
    v-model="over.remove"
    title="Delete this forecast"
    act="Delete the forecast"
    :busy="dialog.busy.value"
    :problem="dialog.detail.value"
    @act="removeIt"
    ><p>
      “{{ forecast.name }}” goes, with {{ rows }} rows. Plans that were made with it keep what they read.
    </p></UiDialog
  >
</template>
