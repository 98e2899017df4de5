<script setup lang="ts">
import { TABLES } from '~~/shared/catalogue/words'
import { ROLES } from '~~/shared/company/rights'

const references = useReferences()
const notices = useNotices()
const { data: people, refresh } = await useFetch('/api/company/people')
const form = reactive({ name: '', email: '', password: '', role: 'viewer' as string })
const adding = ref(false)
const { busy, detail, fields, run } = useAct()
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
async function add(): Promise<void> {
  if (!(await run(() => $fetch('/api/company/people', { method: 'POST', body: form })))) {
    return
  }
  adding.value = false
  notices.say({ kind: 'done', text: `${form.name} can sign in.` })
  Object.assign(form, { name: '', email: '', password: '', role: 'viewer' })
  await refresh()
}
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
  <div class="mx-auto max-w-5xl">
    <UiHead title="People and import" summary="Who may do what, and bringing in what you have in spreadsheets." />
    <div class="grid grid-cols-1 sm:grid-cols-2 items-start gap-4">
      <UiSheet title="People" flush>
        <template #head><UiButton small @click="adding = true">Add a person</UiButton></template>
        <ul>
          <li
            v-for="person in people"
            :key="person.id"
            class="flex justify-between gap-3 border-b border-line/60 px-4 py-2 last:border-0"
          >
            <span
              ><b class="font-medium">{{ person.name }}</b> <span class="text-soft">{{ person.email }}</span></span
            ><UiTag>{{ person.role }}</UiTag>
          </li>
        </ul>
      </UiSheet>
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
    <UiDialog
      v-model="adding"
      title="Add a person"
      act="Add the person"
      :busy="busy"
      :problem="Object.keys(fields).length ? '' : detail"
      @act="add"
    >
      <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
        <UiTextField v-model="form.name" label="Name" :error="fields.name" /><UiChoice
          v-model="form.role"
          label="Role"
          :options="ROLES.map((r) => ({ value: r, name: r }))"
          :error="fields.role"
        /><UiTextField v-model="form.email" label="E-mail address" type="email" :error="fields.email" /><UiTextField
          v-model="form.password"
          label="First password, 10 characters or more"
          type="password"
          autocomplete="new-password"
          :error="fields.password"
        />
      </div>
    </UiDialog>
  </div>
</template>
