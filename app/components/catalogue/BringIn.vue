<script setup lang="ts">
import { IMPORTS, type ImportName } from '~~/shared/catalogue/words'
import type { ImportPreview } from '~~/shared/catalogue/import'

/** `only`: files of this table alone; `base`: where they are looked through and taken in. */
const props = withDefaults(defineProps<{ only?: ImportName; base?: string }>(), { base: '/api/catalogue/batches' })
const emit = defineEmits<{ taken: [] }>()
const route = useRoute()
const references = useReferences()
const notices = useNotices()
const asked = IMPORTS.includes(route.query.table as ImportName) ? (route.query.table as ImportName) : 'items'
const table = ref<ImportName>(props.only ?? asked)
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
      $fetch<ImportPreview>(props.base, {
        method: 'POST',
        body: { ...(props.only ? {} : { table: table.value }), fileName: file.name, content },
      }),
    ),
  )
}
/** Rows of a spreadsheet, with their headings, are a file as well. */
const pasted = ref<string | null>(null)
async function lookThroughPasted(): Promise<void> {
  await choose(new File([pasted.value ?? ''], 'pasted rows.csv'))
  if (preview.value) {
    pasted.value = null
  }
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
      $fetch<ImportPreview>(`${props.base}/${preview.value!.id}/preview`, {
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
    $fetch<{ made: number; changed: number }>(`${props.base}/${id}/apply`, {
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
    text: isGoods.value
      ? `${preview.value!.fileName}: ${done.made} ${plural(done.made, 'line is', 'lines are')} received.`
      : `${preview.value!.fileName}: ${done.made} added, ${done.changed} changed.`,
    batchId: id,
    ...(props.only && { undoAt: `${props.base}/${id}/undo` }),
  })
  preview.value = null
  await references.reload()
  emit('taken')
}
const stop = (): Promise<unknown> => $fetch(`${props.base}/${preview.value!.id}/stop`, { method: 'POST' })
/** Files of goods received move stock. */
const isGoods = computed(() => preview.value?.table === 'goods-received')
const take = computed(() => {
  const count = preview.value!.made + preview.value!.changed
  return isGoods.value
    ? `Receive ${count} ${plural(count, 'line', 'lines')}`
    : `Take in ${count} ${tableWords(preview.value!.table)}`
})
const ACCEPTED: Readonly<Partial<Record<ImportName, string>>> = {
  structures: '.json',
  'goods-received': '.csv,.txt,.xlsx,.xml',
}
/** The samples of all tables, imported in the order of the list, make a small firm. */
const sample = computed(() => `/samples/${table.value}.${table.value === 'structures' ? 'json' : 'csv'}`)
</script>

<template>
  <UiSheet :title="only ? 'A file, or rows of a spreadsheet' : 'Import a file'">
    <div class="flex flex-wrap items-end gap-3">
      <UiChoice
        v-if="!only"
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
          :accept="ACCEPTED[table] ?? '.csv,.txt,.xlsx'"
          class="block h-9 rounded-block border border-line px-2 py-1"
          @change="choose(($event.target as HTMLInputElement).files?.[0])"
      /></label>
      <UiButton v-if="pasted === null" @click="pasted = ''">Paste rows</UiButton>
      <a :href="sample" class="pb-2 text-soft underline" download>A sample file</a>
      <span v-if="busy" class="pb-2 text-soft">Looking through it …</span>
    </div>
    <div v-if="pasted !== null" class="mt-3 grid justify-items-start gap-2">
      <UiTextField
        v-model="pasted"
        class="w-full max-w-3xl"
        :lines="6"
        label="Rows, with their headings in the first"
        hint="copied from a spreadsheet"
      />
      <UiButton :disabled="!pasted.trim()" :busy="busy" @click="lookThroughPasted">Look through these rows</UiButton>
    </div>
    <UiProblem :text="detail" class="mt-3" />
    <template v-if="preview">
      <p class="mt-4">
        <b class="font-semibold">{{ preview.fileName }}</b>: {{ preview.rows }} lines.
        <template v-if="preview.faults.length === 0 && isGoods">{{ preview.made }} would be received.</template
        ><template v-else-if="preview.faults.length === 0"
          >{{ preview.made }} would be added, {{ preview.changed }} changed, {{ preview.same }} stay as they
          are.</template
        >
      </p>
      <section v-if="preview.effects.length > 0" class="mt-3">
        <h3 class="font-semibold">
          {{ isGoods ? 'What would be received' : 'What stock, documents and bills would say then' }}
        </h3>
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
          >{{ take }}</UiButton
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
