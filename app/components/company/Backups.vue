<script setup lang="ts">
const notices = useNotices()
const { clock } = usePrint()
const { data, error, refresh } = await useFetch('/api/company/backups')
const { busy, detail, run } = useAct()
const MEGABYTE = 1e6
const megabytes = (bytes: number): string => `${(bytes / MEGABYTE).toFixed(1)} MB`
/** As many as are shown; the folder has the others. */
const SHOWN = 5

async function backUp(): Promise<void> {
  const made = await run((key) => $fetch('/api/company/backups', { method: 'POST', body: { key } }))
  if (made) {
    notices.say({ kind: 'done', text: `${made.id} is written.` })
    await refresh()
  }
}
</script>

<template>
  <UiSheet title="Backups">
    <template #head><UiButton small :busy="busy" @click="backUp">Back up now</UiButton></template>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiProblem :text="detail" />
    <template v-if="data">
      <UiProblem
        v-if="data.isOverdue"
        class="mb-3"
        text="There is no backup of the last two days. Look whether its folder can be written, and back up now."
      />
      <p class="mb-2 text-soft">
        Each night everything is written into one file in {{ data.folder }}, kept for 14 days, 8 weeks and 12 months.
        Copy them to another machine now and then. How to bring one back is in the
        <NuxtLink to="/guide/running" class="underline">guide</NuxtLink>.
      </p>
      <ul v-if="data.rows.length" aria-label="Backups">
        <li v-for="row in data.rows.slice(0, SHOWN)" :key="row.id" class="flex flex-wrap gap-x-4">
          <span class="font-medium">{{ clock(row.madeAt) }}</span>
          <span class="text-soft">{{ row.id }}, {{ megabytes(row.bytes) }}</span>
        </li>
      </ul>
      <p v-if="data.rows.length > SHOWN" class="text-soft">and {{ data.rows.length - SHOWN }} earlier ones</p>
      <p v-if="data.rows.length === 0">None was made yet.</p>
    </template>
  </UiSheet>
</template>
