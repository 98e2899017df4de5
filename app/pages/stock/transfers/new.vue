<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { MeasuredItem } from '~/composables/ui/use-measure'

interface Line {
  itemId: number | null
  shown: ItemName | null
  measured: MeasuredItem | null
  quantity: string
  unit: string
}
const references = useReferences()
const session = useSession()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const blank = (): Line => ({ itemId: null, shown: null, measured: null, quantity: '', unit: 'piece' })
const asked = useRoute().query
const form = reactive({
  fromSiteId: Number(asked.from) || (references.sites[0]?.id ?? null),
  toSiteId: Number(asked.to) || (references.sites[1]?.id ?? null),
  leavesOn: session.today,
  dueOn: '',
  note: '',
})
// Lines that came with their items, from where they were found to run low.
const lines = ref<Line[]>([
  ...linesToOrder().map(({ itemId, code, name, quantity }): Line => ({
    ...blank(),
    itemId,
    shown: { id: itemId, code, name },
    quantity,
  })),
  blank(),
])
const draft = useDocumentDraft('transfer', form, lines, lines.value.length === 1 && Object.keys(asked).length === 0)
const { wentBack, leaving } = useReturnPath()
onMounted(() => {
  for (const line of lines.value) {
    if (line.itemId !== null && !line.measured) {
      void choose(line, line.itemId)
    }
  }
})
useHead({ title: 'New transfer · Tsumiki' })

async function choose(line: Line, id: number, shown: ItemName | null = line.shown): Promise<void> {
  line.shown = shown && { id: shown.id, code: shown.code, name: shown.name }
  line.measured = await fetchMeasured(id)
  line.unit = line.measured.stockUnit
  if (lines.value.at(-1) === line) {
    lines.value.push(blank())
  }
}
async function leave(): Promise<void> {
  draft.discard()
  await navigateTo('/stock?tab=transfers')
}
async function save(): Promise<void> {
  if (leaving.value) {
    return
  }
  const given = lines.value.filter((line) => line.itemId !== null)
  const made = await run((key) =>
    $fetch('/api/stock/transfers', {
      method: 'POST',
      body: { key, ...form, lines: given.map(({ itemId, quantity, unit }) => ({ itemId, quantity, unit })) },
    }),
  )
  if (!made) {
    return
  }
  draft.discard()
  notices.say({ kind: 'done', text: `${made.number} is written. Nothing has left yet.` })
  if (!(await wentBack())) {
    await navigateTo(`/stock/transfers/${made.id}`)
  }
}
</script>

<template>
  <form @submit.prevent="save">
    <UiHead
      title="New transfer"
      summary="What is to go from one site to another. It leaves and arrives when you say so, in full or in part."
      ><UiButton @click="leave">Cancel</UiButton
      ><UiButton primary type="submit" :busy="busy || leaving">Write the transfer</UiButton></UiHead
    >
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem :text="Object.keys(fields).some((field) => field !== 'lines') ? '' : detail" class="mb-3" />
    <UiSheet>
      <div class="mb-5 grid grid-cols-1 md:grid-cols-[14rem_14rem_11rem_11rem_1fr] gap-3">
        <UiChoice
          v-model="form.fromSiteId"
          label="From"
          :options="references.choices(references.sites)"
          :error="fields.fromSiteId"
        />
        <UiChoice
          v-model="form.toSiteId"
          label="To"
          :options="references.choices(references.sites)"
          :error="fields.toSiteId"
        />
        <UiDateField v-model="form.leavesOn" label="Leaves on" :error="fields.leavesOn" />
        <UiDateField v-model="form.dueOn" label="Arrives on" hint="empty: by the usual route" :error="fields.dueOn" />
        <UiTextField v-model="form.note" label="Note" :error="fields.note" />
      </div>
      <div
        v-for="(line, index) in lines"
        :key="index"
        class="grid grid-cols-1 md:grid-cols-[1fr_14rem_2.5rem] items-start gap-3 border-t border-line/60 py-2"
      >
        <UiItemField
          v-model="line.itemId"
          :shown="line.shown"
          :label="`Item of line ${index + 1}`"
          hide-label
          :error="fields[`lines.${index}.itemId`]"
          @chosen="choose(line, $event.id, $event)"
        />
        <UiQuantityField
          v-model="line.quantity"
          v-model:unit="line.unit"
          :label="`Quantity of line ${index + 1}`"
          hide-label
          :item="line.measured"
          :error="fields[`lines.${index}.quantity`]"
        />
        <UiButton v-if="lines.length > 1" :aria-label="`Remove line ${index + 1}`" @click="lines.splice(index, 1)"
          >×</UiButton
        >
      </div>
      <UiButton small class="mt-2" @click="lines.push(blank())">Add a line</UiButton>
    </UiSheet>
  </form>
</template>
