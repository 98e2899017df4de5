<script setup lang="ts">
import { IMPORTS, TABLES, type ImportName } from '~~/shared/catalogue/import'

interface ImportPreview {
  id: number
  table: ImportName
  fileName: string
  headings: string[]
  mapping: Record<string, string | null>
  columns: { name: string; needed: boolean }[]
  rows: number
  made: number
  changed: number
  same: number
  faults: { line: number; column: string; text: string; detail: string }[]
  sample: Record<string, string>[]
}
const route = useRoute()
const session = useSession()
const references = useReferences()
const notices = useNotices()
const table = ref<ImportName>(
  IMPORTS.includes(route.query.table as ImportName) ? (route.query.table as ImportName) : 'items',
)
const SAYS: Readonly<Partial<Record<ImportName, string>>> = {
  'indented-bills': 'bills, indented by level',
  structures: 'structures as JSON',
  'opening-stock': 'opening stock, in layers',
}
const preview = ref<ImportPreview | null>(null)
const mapping = ref<Record<string, string | null>>({})
const { busy, detail, run } = useAct({ latest: true })
const applying = useAct()
const progress = ref<number | null>(null)
const { data: batches, refresh } = await useFetch('/api/catalogue/batches')
const inWords = (name: string): string =>
  name === 'name2' ? 'name in a second language' : name.replaceAll('-', ' ').replaceAll('_', ' ')
const mayEdit = computed(() => session.allows('catalogue'))
useHead({ title: 'Files in and out · Tsumiki' })

async function choose(file: File | null | undefined): Promise<void> {
  if (!file) {
    return
  }
  const content = await asBase64(file)
  show(
    await run(() =>
      $fetch<ImportPreview>('/api/catalogue/batches', {
        method: 'POST',
        body: { table: table.value, fileName: file.name, content },
      }),
    ),
  )
}
function show(answer: ImportPreview | null): void {
  if (answer) {
    preview.value = answer
    mapping.value = { ...answer.mapping }
  }
}
async function match(column: string, heading: string | null): Promise<void> {
  mapping.value = { ...mapping.value, [column]: heading }
  show(
    await run(() =>
      $fetch<ImportPreview>(`/api/catalogue/batches/${preview.value!.id}/preview`, {
        method: 'POST',
        body: { mapping: mapping.value },
      }),
    ),
  )
}
async function apply(): Promise<void> {
  const { id, mapping: seen } = preview.value!
  progress.value = 0
  const timer = setInterval(async () => {
    progress.value = (await $fetch(`/api/catalogue/batches/${id}`)).progress
  }, 500)
  const done = await applying.run(() =>
    $fetch<{ made: number; changed: number }>(`/api/catalogue/batches/${id}/apply`, {
      method: 'POST',
      body: { mapping: seen },
    }),
  )
  clearInterval(timer)
  progress.value = null
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${preview.value!.fileName}: ${done.made} added, ${done.changed} changed.`,
    batchId: id,
  })
  preview.value = null
  await Promise.all([references.reload(), refresh()])
}
const stop = (): Promise<unknown> => $fetch(`/api/catalogue/batches/${preview.value!.id}/stop`, { method: 'POST' })
async function undo(id: number): Promise<void> {
  if (!(await applying.run(() => $fetch(`/api/catalogue/batches/${id}/undo`, { method: 'POST' })))) {
    return
  }
  notices.say({ kind: 'done', text: 'Undone: everything is as it was.' })
  await Promise.all([references.reload(), refresh()])
}
const picturing = useAct()
/** Pictures that are named by the codes of their items. */
async function takePictures(files: readonly File[]): Promise<void> {
  if (files.length === 0) {
    return
  }
  const done = await picturing.run(async () =>
    $fetch('/api/catalogue/pictures/of-items', {
      method: 'POST',
      body: {
        files: await Promise.all(files.map(async (file) => ({ name: file.name, content: await asBase64(file) }))),
      },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `${done.changed} ${done.changed === 1 ? 'item has' : 'items have'} a new picture.`,
    batchId: done.batchId,
  })
  await refresh()
}
/** The faults as a file, to be worked through beside the spreadsheet. */
function saveFaults(): void {
  const cell = (text: string): string => `"${text.replaceAll('"', '""')}"`
  const text = [
    ['line', 'column', 'text', 'fault'],
    ...preview.value!.faults.map((f) => [String(f.line), f.column, f.text, f.detail]),
  ]
    .map((line) => line.map(cell).join(','))
    .join('\r\n')
  const link = Object.assign(document.createElement('a'), {
    href: URL.createObjectURL(new Blob(['\uFEFF', text], { type: 'text/csv' })),
    download: `faults of ${preview.value!.fileName}.csv`,
  })
  link.click()
  URL.revokeObjectURL(link.href)
}
</script>

<template>
  <div>
    <CatalogueLists />
    <UiHead
      title="Files in and out"
      summary="CSV or XLSX. What goes out comes in again unchanged; what comes in is tried first, taken whole or not at all, and can be undone."
    />
    <div class="grid grid-cols-[1fr_22rem] items-start gap-4">
      <div class="grid gap-4">
        <UiSheet v-if="mayEdit" title="Bring in a file">
          <div class="flex flex-wrap items-end gap-3">
            <FormSelect
              v-model="table"
              label="It fills"
              class="w-56"
              :options="IMPORTS.map((name) => ({ value: name, name: SAYS[name] ?? inWords(name) }))"
              @update:model-value="preview = null"
            />
            <label class="block"
              ><span class="mb-1 block text-fine font-medium text-soft">File</span
              ><input
                :key="`${table} ${preview?.id ?? ''}`"
                type="file"
                :accept="table === 'structures' ? '.json' : '.csv,.txt,.xlsx'"
                class="block h-9 rounded-block border border-line px-2 py-1"
                @change="choose(($event.target as HTMLInputElement).files?.[0])"
            /></label>
            <span v-if="busy" class="pb-2 text-soft">Looking through it …</span>
          </div>
          <UiProblem :text="detail" class="mt-3" />
          <template v-if="preview">
            <p class="mt-4">
              <b class="font-semibold">{{ preview.fileName }}</b>: {{ preview.rows }} lines.
              <template v-if="preview.faults.length === 0"
                >{{ preview.made }} would be added, {{ preview.changed }} changed, {{ preview.same }} stay as they
                are.</template
              >
            </p>
            <div v-if="preview.faults.length" role="alert" class="mt-2">
              <p class="flex items-center gap-3 font-semibold text-brick">
                {{ preview.faults.length }} {{ preview.faults.length === 1 ? 'thing' : 'things' }} to mend first;
                nothing is taken in until then. <UiButton small @click="saveFaults">Save the list</UiButton>
              </p>
              <div class="mt-2 max-h-72 overflow-y-auto rounded-block border border-line">
                <table class="w-full" aria-label="Faults of the file">
                  <thead>
                    <tr class="sticky top-0 bg-wash text-left text-fine text-soft">
                      <th class="px-2 py-1 text-right font-medium">Line</th>
                      <th class="px-2 py-1 font-medium">Column</th>
                      <th class="px-2 py-1 font-medium">It says</th>
                      <th class="px-2 py-1 font-medium">What is wrong</th>
                    </tr>
                  </thead>
                  <tbody>
                    <tr
                      v-for="(fault, index) in preview.faults.slice(0, 200)"
                      :key="index"
                      class="border-t border-line/60"
                    >
                      <td class="px-2 py-1 text-right">{{ fault.line }}</td>
                      <td class="px-2 py-1 whitespace-nowrap">{{ fault.column }}</td>
                      <td class="max-w-40 truncate px-2 py-1">{{ fault.text }}</td>
                      <td class="px-2 py-1">{{ fault.detail }}</td>
                    </tr>
                  </tbody>
                </table>
              </div>
            </div>
            <UiProblem :text="applying.detail.value" class="mt-3" />
            <div class="mt-3 flex items-center gap-3">
              <UiButton
                primary
                :busy="applying.busy.value"
                :disabled="preview.faults.length > 0 || preview.made + preview.changed === 0 || busy"
                @click="apply"
                >Take in {{ preview.made + preview.changed }} {{ inWords(preview.table) }}</UiButton
              >
              <template v-if="progress !== null"
                ><progress :value="progress" max="100" class="w-48" /> {{ progress }} %
                <UiButton small @click="stop">Stop</UiButton></template
              >
              <UiButton v-else @click="preview = null">Leave it</UiButton>
            </div>
            <h3 v-if="preview.columns.length" class="mt-5 mb-1 font-semibold">Columns</h3>
            <div class="grid grid-cols-3 gap-x-4 gap-y-2">
              <FormSelect
                v-for="column in preview.columns"
                :key="column.name"
                :model-value="mapping[column.name] ?? null"
                :label="`${inWords(column.name)}${column.needed ? ' (needed)' : ''}`"
                empty="left out"
                :options="preview.headings.map((heading) => ({ value: heading, name: heading }))"
                :hint="
                  mapping[column.name]
                    ? preview.sample
                        .map((line) => line[mapping[column.name]!])
                        .filter(Boolean)
                        .slice(0, 3)
                        .join(', ')
                    : ''
                "
                @update:model-value="match(column.name, $event as string | null)"
              />
            </div>
          </template>
        </UiSheet>
        <UiSheet v-if="mayEdit" title="Bring in pictures">
          <label
            class="flex flex-wrap items-center gap-3"
            @dragover.prevent
            @drop.prevent="takePictures([...($event.dataTransfer?.files ?? [])])"
            ><input
              type="file"
              multiple
              accept="image/png,image/jpeg,image/gif,image/bmp"
              aria-label="Pictures"
              class="block h-9 rounded-block border border-line px-2 py-1"
              @change="takePictures([...(($event.target as HTMLInputElement).files ?? [])])"
            /><span class="text-soft"
              >Several at once, each named by the code of its item: <b class="font-medium">NB-A5-RED.jpg</b></span
            ></label
          >
          <UiProblem :text="picturing.detail.value" class="mt-2" />
        </UiSheet>
        <UiSheet title="Brought in and set at once" flush>
          <ul>
            <li
              v-for="batch in batches"
              :key="batch.id"
              class="flex items-center gap-3 border-b border-line/60 px-4 py-2 last:border-0"
            >
              <span class="min-w-0 flex-1 truncate"
                ><b class="font-medium">{{ batch.label }}</b
                >{{ ' ' }}
                <span class="text-soft"
                  >{{ inWords(batch.table) }} · {{ batch.who
                  }}<template v-if="batch.kind === 'file'">
                    · {{ batch.made }} added, {{ batch.changed }} changed</template
                  ></span
                ></span
              ><UiTag v-if="batch.state === 'undone'">undone</UiTag
              ><UiButton v-else-if="mayEdit" small :busy="applying.busy.value" @click="undo(batch.id)">Undo</UiButton>
            </li>
          </ul>
          <UiEmpty
            v-if="batches?.length === 0"
            title="Nothing yet"
            summary="Files that are taken in stand here, and can be undone."
          />
        </UiSheet>
      </div>
      <UiSheet title="Take out" flush>
        <ul>
          <li class="flex items-center justify-between gap-3 border-b border-line/60 px-4 py-1.5">
            <span>structures, whole</span
            ><a href="/api/structure/bills/file" download class="underline" aria-label="structures as JSON">JSON</a>
          </li>
          <li
            v-for="name in TABLES"
            :key="name"
            class="flex items-center justify-between gap-3 border-b border-line/60 px-4 py-1.5 last:border-0"
          >
            <span>{{ inWords(name) }}</span><span class="flex gap-3"
              ><a
                :href="`/api/catalogue/tables/${name}`"
                download
                class="underline"
                :aria-label="`${inWords(name)} as CSV`"
                >CSV</a
              ><a
                :href="`/api/catalogue/tables/${name}?format=xlsx`"
                download
                class="underline"
                :aria-label="`${inWords(name)} as XLSX`"
                >XLSX</a
              ></span
            >
          </li>
        </ul>
      </UiSheet>
    </div>
  </div>
</template>
