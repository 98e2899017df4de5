<script setup lang="ts">
import { IMPORTS, type ImportName } from '~~/shared/catalogue/words'
import type { ImportPreview } from '~~/shared/catalogue/import'

const emit = defineEmits<{ taken: [] }>()
const route = useRoute()
const references = useReferences()
const notices = useNotices()
const table = ref<ImportName>(
  IMPORTS.includes(route.query.table as ImportName) ? (route.query.table as ImportName) : 'items',
)
/** What the kinds of files are called whose table's own name would not say it. */
const FILE_NAMES: Readonly<Partial<Record<ImportName, string>>> = {
  'indented-bills': 'bills, indented by level',
  structures: 'structures as JSON',
  'opening-stock': 'opening stock, in layers',
}
const preview = ref<ImportPreview | null>(null)
const mapping = ref<Record<string, string | null>>({})
const { busy, detail, run } = useAct({ latest: true })
const applying = useAct()
const progress = ref<number | null>(null)

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
  await references.reload()
  emit('taken')
}
const stop = (): Promise<unknown> => $fetch(`/api/catalogue/batches/${preview.value!.id}/stop`, { method: 'POST' })
/** The samples of all tables, imported in the order of the list, make a small firm. */
const sample = computed(() => `/samples/${table.value}.${table.value === 'structures' ? 'json' : 'csv'}`)
</script>

<template>
  <UiSheet title="Import a file">
    <div class="flex flex-wrap items-end gap-3">
      <UiChoice
        v-model="table"
        label="Table"
        class="w-56"
        :options="IMPORTS.map((name) => ({ value: name, name: FILE_NAMES[name] ?? tableWords(name) }))"
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
      <a :href="sample" class="pb-2 text-soft underline" download>A sample file</a>
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
      <section v-if="preview.effects.length > 0" class="mt-3">
        <h3 class="font-semibold">What stock, documents and bills would say then</h3>
        <UiEffects :effects="preview.effects" />
      </section>
      <CatalogueImportFaults v-if="preview.faults.length" :file-name="preview.fileName" :faults="preview.faults" />
      <UiProblem :text="applying.detail.value" class="mt-3" />
      <div class="mt-3 flex items-center gap-3">
        <UiButton
          primary
          :busy="applying.busy.value"
          :disabled="preview.faults.length > 0 || preview.made + preview.changed === 0 || busy"
          @click="apply"
          >Take in {{ preview.made + preview.changed }} {{ tableWords(preview.table) }}</UiButton
        >
        <UiProgress
          v-if="progress !== null"
          class="w-72"
          label="How much of the file is taken in"
          :value="progress"
          :told="`${progress} %`"
          can-stop
          @stop="stop"
        />
        <UiButton v-else @click="preview = null">Cancel</UiButton>
      </div>
      <h3 v-if="preview.columns.length" class="mt-5 mb-1 font-semibold">Columns</h3>
      <div class="grid grid-cols-2 md:grid-cols-3 gap-x-4 gap-y-2">
        <UiChoice
          v-for="column in preview.columns"
          :key="column.name"
          :model-value="mapping[column.name] ?? null"
          :label="`${tableWords(column.name)}${column.needed ? ' (needed)' : ''}`"
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
</template>
