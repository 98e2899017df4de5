<script setup lang="ts">
import { majorText } from '~~/core/money'
import { ROLES } from '~~/shared/company/rights'

const session = useSession()
const notices = useNotices()
const { day } = usePrint()
const { data, refresh } = await useFetch('/api/books/settings')
const through = ref(data.value?.closedThrough ?? '')
const limits = reactive<Record<string, string>>(
  Object.fromEntries(ROLES.map((role) => [role, data.value?.limits[role] ? majorText(data.value.limits[role]) : ''])),
)
const closing = useAct()
const limiting = useAct()
async function close(target: string): Promise<void> {
  const done = await closing.run(() => $fetch('/api/books/close', { method: 'POST', body: { through: target } }))
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: done.closedThrough ? `The books are closed through ${day(done.closedThrough)}.` : 'All days are open.',
  })
  through.value = done.closedThrough ?? ''
  await refresh()
}
async function save(): Promise<void> {
  if (await limiting.run(() => $fetch('/api/books/limits', { method: 'PUT', body: { limits } }))) {
    notices.say({ kind: 'done', text: 'The limits are kept.' })
    await refresh()
  }
}
const MOVING = ['owner', 'stockkeeper'] as const
</script>

<template>
  <div class="grid grid-cols-1 sm:grid-cols-2 items-start gap-4">
    <UiSheet title="Closed days">
      <p class="mb-3">
        {{ data?.closedThrough ? `The books are closed through ${day(data.closedThrough)}.` : 'All days are open.' }} On
        a closed day nothing is recorded any more; what turns out to have cost something else is re-valued on the first
        open day.
      </p>
      <div v-if="session.allows('books')" class="flex items-end gap-3">
        <UiDateField
          v-model="through"
          class="w-44"
          label="Close through"
          :error="closing.fields.value.through"
        /><UiButton
          primary
          class="mb-[1px]"
          :busy="closing.busy.value"
          :disabled="!through || through === data?.closedThrough"
          @click="close(through)"
          >Close the books</UiButton
        ><UiButton v-if="data?.closedThrough" :busy="closing.busy.value" @click="close('')">Open all days</UiButton>
      </div>
      <UiProblem :text="Object.keys(closing.fields.value).length ? '' : closing.detail.value" class="mt-3" />
    </UiSheet>
    <UiSheet title="What a role may correct alone">
      <p class="mb-3 text-soft">
        A correction or a count that is worth more is refused, and asks for an owner. Empty is any amount.
      </p>
      <form class="flex items-end gap-3" @submit.prevent="save">
        <UiTextField
          v-for="role in MOVING"
          :key="role"
          v-model="limits[role]!"
          class="w-36"
          :label="role"
          right
          :disabled="!session.allows('people')"
          :error="limiting.fields.value[`limits.${role}`]"
        /><UiButton v-if="session.allows('people')" class="mb-[1px]" type="submit" :busy="limiting.busy.value"
          >Keep the limits</UiButton
        >
      </form>
      <UiProblem :text="Object.keys(limiting.fields.value).length ? '' : limiting.detail.value" class="mt-3" />
    </UiSheet>
  </div>
</template>
