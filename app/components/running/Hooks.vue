<script setup lang="ts">
import type { HookRow } from '~~/shared/running/answers'
import type { DataColumn } from '~/composables/ui/data-column'

const { clock } = usePrint()
const { data: hooks, error, refresh } = await useFetch<HookRow[]>('/api/running/hooks')
/** The one that is changed; `new` for one that is made. */
const editing = ref<HookRow | 'new' | null>(null)
const looking = ref<HookRow | null>(null)
/** The secret of a new web hook, shown this once. */
const made = ref<{ name: string; secret: string } | null>(null)
async function saved(fresh?: { name: string; secret: string }): Promise<void> {
  editing.value = null
  made.value = fresh ?? null
  await refresh()
}
const stateOf = (hook: HookRow): string => {
  if (!hook.active) {
    return 'not told'
  }
  if (hook.failed > 0) {
    return `${hook.failed} given up`
  }
  return hook.waiting > 0 ? `${hook.waiting} wait` : 'told'
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'name', name: 'Name', isFixed: true, width: 170 },
  { key: 'url', name: 'Address', least: 200 },
  { key: 'events', name: 'Is told of', width: 200, wrap: true, text: ({ events }: HookRow) => events.join(', ') },
  {
    key: 'deliveredAt',
    name: 'Last told',
    width: 130,
    text: ({ deliveredAt }: HookRow) => (deliveredAt ? clock(deliveredAt) : 'never'),
  },
  { key: 'state', name: 'State', width: 110, text: stateOf },
  { key: 'go', name: '', isAct: true, width: 160 },
]
</script>

<template>
  <UiSheet title="Web hooks" flush>
    <template #head><UiButton small @click="editing = 'new'">Add a web hook</UiButton></template>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiDataTable
      v-if="hooks"
      list="web-hooks"
      label="Web hooks"
      is-plain
      :columns="COLUMNS"
      :rows="hooks"
      :muted="(hook) => !hook.active"
    >
      <template #go="{ row }"
        ><span class="flex justify-end gap-1"
          ><UiButton small :aria-label="`Calls of ${row.name}`" @click="looking = row">Calls</UiButton
          ><UiButton small :aria-label="`Change ${row.name}`" @click="editing = row">Change</UiButton></span
        ></template
      >
      <template #empty
        ><UiEmptyState
          title="No web hooks"
          summary="Another program, such as a shop, is told by a signed call as soon as stock moves or an order changes. What it does not take is sent again."
      /></template>
    </UiDataTable>
    <RunningHookEdit v-if="editing" :hook="editing === 'new' ? null : editing" @done="saved" @close="editing = null" />
    <RunningCalls v-if="looking" :hook="looking" @close="looking = null" @changed="refresh" />
    <UiShownOnce
      name="secret"
      :title="`The secret of ${made?.name ?? ''}`"
      :secret="made?.secret ?? null"
      @close="made = null"
    >
      It is shown this once. By it the other program checks that a call is ours (Standard Webhooks: HMAC-SHA256 of
      webhook-id, webhook-timestamp and body).
    </UiShownOnce>
  </UiSheet>
</template>
