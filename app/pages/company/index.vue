<script setup lang="ts">
import { TABLES } from '~~/shared/catalogue/words'

const references = useReferences()
const notices = useNotices()
const importing = useAct()
const files = ref<{ name: string; text: string }[]>([])
useHead({ title: 'People and import · Tsumiki' })

const FILES = [
  ...TABLES,
  'bills',
  'bill-lines',
  'break-downs',
  'opening-stock',
  'sales-orders',
  'purchase-orders',
  'builds',
  'cutting-jobs',
  'forecast',
]
async function pick(event: Event): Promise<void> {
  const chosen = [...((event.target as HTMLInputElement).files ?? [])]
  files.value = await Promise.all(chosen.map(async (file) => ({ name: file.name, text: await file.text() })))
}
async function take(): Promise<void> {
  const done = await importing.run(() =>
    $fetch('/api/company/import', { method: 'POST', body: { files: files.value } }),
  )
  if (!done) {
    return
  }
  files.value = []
  await references.reload()
  void refreshToday()
  notices.say({ kind: 'done', text: `Brought in ${done.map((d) => `${d.rows} rows of ${d.file}`).join(', ')}.` })
}
</script>

<template>
  <div>
    <UiHead title="People and import" summary="Who may do what, and bringing in what you have in spreadsheets." />
    <div class="grid items-start gap-4">
      <CompanyPeople />
      <CompanyBackups />
      <UiSheet title="Import files">
        <p class="mb-2">
          CSV files with a header line, named as below; all of them or nothing is taken in. A mistake is told with its
          file and line. For one table of the catalogue, with its columns matched and everything tried first, see
          <NuxtLink to="/catalogue/files" class="underline">files in and out</NuxtLink>.
        </p>
        <p class="mb-3 text-fine text-soft">{{ FILES.map((f) => `${f}.csv`).join(' · ') }}</p>
        <label class="mb-3 block"
          ><span class="sr-only">Files to import</span
          ><input
            type="file"
            multiple
            accept=".csv,text/csv"
            class="block w-full rounded-block border border-line p-2"
            @change="pick"
        /></label>
        <UiProblem :text="importing.detail.value" class="mb-3" />
        <UiButton primary :busy="importing.busy.value" :disabled="files.length === 0" @click="take"
          >Import {{ files.length }} {{ plural(files.length, 'file', 'files') }}</UiButton
        >
      </UiSheet>
    </div>
  </div>
</template>
