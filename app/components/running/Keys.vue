<script setup lang="ts">
import { RIGHTS, type Right } from '~~/shared/company/rights'
import { RIGHT_NAMES } from '~~/shared/company/words'
import type { ApiKeyRow } from '~~/shared/running/answers'
import type { DataColumn } from '~/composables/ui/data-column'

const notices = useNotices()
const { clock, day } = usePrint()
const { data: keys, error, refresh } = await useFetch<ApiKeyRow[]>('/api/running/keys')
const adding = ref(false)
const form = reactive({ name: '', rights: ['see'] as Right[], expiresOn: '' })
const making = useAct()
/** A key to hand over, shown this once. */
const made = ref<{ name: string; token: string } | null>(null)
async function make(): Promise<void> {
  const done = await making.run(() =>
    $fetch<{ token: string }>('/api/running/keys', { method: 'POST', body: { ...form } }),
  )
  if (!done) {
    return
  }
  adding.value = false
  made.value = { name: form.name, token: done.token }
  Object.assign(form, { name: '', rights: ['see'], expiresOn: '' })
  await refresh()
}
const { detail, run } = useAct()
const ending = ref<ApiKeyRow | null>(null)
async function end(): Promise<void> {
  const key = ending.value!
  if (await run(() => $fetch<object>(`/api/running/keys/${key.id}`, { method: 'DELETE' }))) {
    ending.value = null
    notices.say({ kind: 'done', text: `The key “${key.name}” opens nothing any more.` })
    await refresh()
  }
}
const stateOf = ({ endedAt, expiresOn }: ApiKeyRow): string => {
  if (endedAt !== null) {
    return `ended ${clock(endedAt)}`
  }
  return expiresOn === null ? 'opens' : `opens until ${day(expiresOn)}`
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'name', name: 'Name', isFixed: true, width: 170 },
  { key: 'beginning', name: 'Begins with', width: 130 },
  { key: 'rights', name: 'May', wrap: true, least: 180, text: ({ rights }: ApiKeyRow) => rights.join(', ') },
  { key: 'who', name: 'Made by', width: 130 },
  {
    key: 'usedAt',
    name: 'Last used',
    width: 190,
    text: ({ usedAt, usedFrom }: ApiKeyRow) => (usedAt ? `${clock(usedAt)} from ${usedFrom}` : 'never'),
  },
  { key: 'endedAt', name: 'State', width: 170, text: stateOf },
  { key: 'go', name: '', isAct: true, width: 80 },
]
</script>

<template>
  <UiSheet title="Keys for scripts" flush>
    <template #head
      ><span class="flex flex-wrap items-center gap-3"
        ><NuxtLink to="/guide/api" class="underline">What a script can ask</NuxtLink
        ><UiButton small @click="adding = true">Make a key</UiButton></span
      ></template
    >
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiDataTable
      v-if="keys"
      list="api-keys"
      label="Keys for scripts"
      is-plain
      :columns="COLUMNS"
      :rows="keys"
      :muted="(key) => key.endedAt !== null"
    >
      <template #go="{ row }"
        ><UiButton v-if="row.endedAt === null" small :aria-label="`End the key ${row.name}`" @click="ending = row"
          >End</UiButton
        ></template
      >
      <template #empty
        ><UiEmptyState
          title="No keys"
          summary="A script signs in by a key of its own, which opens only what you choose. What it does is noted under its name."
      /></template>
    </UiDataTable>
    <UiDialog
      v-model="adding"
      title="Make a key"
      act="Make the key"
      :busy="making.busy.value"
      :problem="Object.keys(making.fields.value).length ? '' : making.detail.value"
      @act="make"
    >
      <div class="grid grid-cols-1 gap-3 sm:grid-cols-2">
        <UiTextField v-model="form.name" label="Name" :error="making.fields.value.name" />
        <UiDateField
          v-model="form.expiresOn"
          label="Last day"
          hint="Empty: it opens until you end it."
          :error="making.fields.value.expiresOn"
        />
      </div>
      <RunningTicks
        v-model="form.rights"
        class="mt-4"
        legend="May"
        :options="RIGHTS.map((right) => ({ value: right, name: RIGHT_NAMES[right] }))"
        :error="making.fields.value.rights"
      />
    </UiDialog>
    <UiShownOnce
      name="key"
      :title="`The key of ${made?.name ?? ''}`"
      :secret="made?.token ?? null"
      before="Authorization: Bearer "
      @close="made = null"
    >
      It is shown this once. A script sends it with each request:
    </UiShownOnce>
    <UiDialog
      :model-value="ending !== null"
      :title="`End the key ${ending?.name ?? ''}`"
      act="End it"
      :problem="detail"
      @update:model-value="ending = null"
      @act="end"
    >
      <p>Whatever uses it gets no answer from now on. It cannot be brought back; a new one can be made.</p>
    </UiDialog>
  </UiSheet>
</template>
