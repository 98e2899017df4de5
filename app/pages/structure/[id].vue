<script setup lang="ts">
const route = useRoute()
const session = useSession()
const id = computed(() => Number(route.params.id))
const { data: item, refresh: refreshItem } = orNotFound(await useFetch(() => `/api/catalogue/items/${id.value}`))
const mayEdit = computed(() => session.allows('catalogue'))
const page = await useBillPage(
  id,
  () => (route.query.revision ? Number(route.query.revision) : null),
  () => mayEdit.value,
)
const { revisions, shown, form, held, isDraft, saving, history, drawn, fields, items } = page
const { revise, busy } = useRevise(id)
const isKit = computed(() => item.value?.source === 'kit')
const part = ref('lines')
const tabs = computed(() => [
  { key: 'lines', name: isKit.value ? 'Contents' : 'Components', count: form.value?.lines.length },
  { key: 'work', name: 'Work, steps, by-products' },
  { key: 'levels', name: 'Multi-level explosion' },
  { key: 'buildable', name: 'Buildable now' },
  { key: 'facts', name: 'Lead time and mass' },
  { key: 'uses', name: 'Where used' },
  { key: 'revisions', name: 'Revisions', count: revisions.value?.length },
])
const using = ref(false)
const several = ref(false)
const bridge = ref<{ itemId: number; from: string; to: string } | null>(null)
const table = useTemplateRef('table')
async function show(revision: number | null): Promise<void> {
  await saving.commit()
  if (
    mayEdit.value &&
    isDraft.value &&
    saving.isDirty.value &&
    !window.confirm('Some of what you typed is not saved. Leave the page?')
  ) {
    return
  }
  await navigateTo({ query: revision === null ? {} : { revision } })
}
async function begin(from: number | null): Promise<void> {
  const made = await revise(from)
  if (!made) {
    return
  }
  await page.refresh()
  await show(made)
  part.value = 'lines'
}
async function bridged(): Promise<void> {
  const itemId = bridge.value!.itemId
  bridge.value = null
  await page.again([itemId])
  await saving.commit()
}
async function used(): Promise<void> {
  using.value = false
  await Promise.all([page.refresh(), refreshItem()])
  await page.load()
  await page.again([id.value])
}
function addSeveral(chosen: readonly { id: number }[]): void {
  several.value = false
  void page.want(chosen.map((choice) => choice.id)).then(() => {
    for (const choice of chosen) {
      form.value!.lines.push({
        ...blankLine(),
        itemId: choice.id,
        quantity: '1',
        unit: items.value.get(choice.id)?.makingUnit ?? 'piece',
      })
    }
  })
}
const step = (direction: 'undo' | 'redo'): boolean => {
  const done = history[direction]()
  void nextTick(saving.commit)
  return done
}
useHistoryKeys(step, () => isDraft.value)
useKeys([
  {
    key: 'a',
    summary: 'add a component',
    act: () => {
      if (!isDraft.value || !mayEdit.value) {
        return
      }
      part.value = 'lines'
      void nextTick(() => table.value?.add())
    },
  },
  {
    key: 'r',
    summary: 'revise this bill',
    act: () => {
      if (mayEdit.value && shown.value && shown.value.state !== 'draft') {
        void begin(shown.value.id)
      }
    },
  },
  {
    key: 'o',
    summary: 'open the item',
    act: () => {
      void navigateTo(`/catalogue/${id.value}`)
    },
  },
])
useHead({ title: () => `${item.value?.code} ${isKit.value ? 'contents' : 'bill'} · Tsumiki` })
</script>

<template>
  <div v-if="item">
    <UiHead
      :title="`${item.code}  ${item.name}`"
      :summary="
        isKit
          ? `What one kit holds · shipped ${item.kitPolicy === 'either' ? 'either way' : item.kitPolicy}`
          : 'What it is made of'
      "
    >
      <UiSaveState
        v-if="mayEdit && isDraft"
        :state="saving.state.value"
        :detail="saving.detail.value"
        :stale="saving.code.value === 'stale-version'"
        @back="saving.back()"
        @reload="page.load()"
      />
      <template v-if="isDraft && mayEdit"
        ><UiButton :disabled="!history.canUndo.value" title="Ctrl Z" @click="step('undo')">Undo</UiButton
        ><UiButton :disabled="!history.canRedo.value" title="Ctrl Shift Z" @click="step('redo')"
          >Redo</UiButton
        ></template
      >
      <UiButton @click="navigateTo(`/catalogue/${item.id}`)">Item</UiButton>
      <a v-if="shown" :href="`/api/structure/bills/${shown.id}/document`" class="text-soft underline" download>Print</a>
      <UiButton v-if="mayEdit && shown && shown.state !== 'draft'" :busy="busy" @click="begin(shown.id)"
        >Revise</UiButton
      >
      <UiButton
        v-if="mayEdit && isDraft"
        primary
        :disabled="saving.state.value !== 'saved' || form?.lines.length === 0"
        @click="using = true"
        >Use this revision</UiButton
      >
    </UiHead>
    <StructureRevisionStrip v-if="revisions?.length" :revisions="revisions" :shown="shown?.id ?? null" @show="show" />
    <UiSheet v-if="!shown || !form"
      ><UiEmptyState
        :title="isKit ? 'The kit has no contents yet' : 'No bill of materials yet'"
        :summary="`Say what goes into ${item.code}: by keyboard, pasted from a spreadsheet, or from a file.`"
        ><UiButton v-if="mayEdit" primary :busy="busy" @click="begin(null)">{{
          isKit ? 'Fill the kit' : 'Write the first bill'
        }}</UiButton
        >{{ ' ' }}
        <NuxtLink v-if="mayEdit" to="/catalogue/files?table=bill-lines" class="ml-3 underline"
          >Import a file</NuxtLink
        ></UiEmptyState
      ></UiSheet
    >
    <template v-else>
      <UiTabs v-model="part" :tabs="tabs" />
      <UiProblem :text="Object.keys(fields).length ? '' : saving.detail.value" class="mb-3" />
      <Suspense>
        <div v-if="part === 'lines'" class="grid items-start gap-4 grid-cols-1 md:grid-cols-[minmax(0,1fr)_25.5rem]">
          <form
            data-saves
            aria-label="The bill"
            class="rounded-md border border-line bg-sheet p-4"
            @submit.prevent="saving.commit()"
          >
            <StructureBatch
              v-model="held"
              :item="items.get(id) ?? null"
              :fields="fields"
              :disabled="!isDraft || !mayEdit"
              :is-kit="isKit"
            />
            <StructureLines
              ref="table"
              v-model="held"
              :items="items"
              :structure="drawn.structure"
              :summary="drawn.summary"
              :fields="fields"
              :disabled="!isDraft || !mayEdit"
              :is-kit="isKit"
              @want="page.want($event)"
              @bridge="
                (itemId, from, target) => {
                  bridge = { itemId, from, to: target }
                }
              "
              @write="(id) => navigateTo(`/structure/${id}`)"
              @several="several = true"
              @changed="nextTick(saving.commit)"
            />
          </form>
          <StructureTower :structure="drawn.structure" :item-id="id" class="sticky top-0" />
        </div>
        <StructureWork
          v-else-if="part === 'work'"
          v-model="held"
          :item="items.get(id) ?? null"
          :items="items"
          :structure="drawn.structure"
          :fields="fields"
          :disabled="!isDraft || !mayEdit"
          @want="page.want($event)"
          @changed="saving.commit()"
        />
        <StructureLevels
          v-else-if="part === 'levels'"
          :item-id="id"
          :bill-id="shown.id"
          :symbol="items.get(id)?.symbol ?? ''"
          :batch="drawn.structure?.parts.bills.find((bill) => bill.itemId === id)?.batch ?? '1'"
        />
        <StructureBuildable
          v-else-if="part === 'buildable'"
          :item="{ id: item.id, code: item.code, name: item.name }"
        />
        <StructureFacts v-else-if="part === 'facts'" :structure="drawn.structure" :item-id="id" />
        <StructureUses
          v-else-if="part === 'uses'"
          :item="{ id: item.id, code: item.code, name: item.name }"
          :may-edit="mayEdit"
        />
        <StructureRevisions
          v-else
          :revisions="revisions ?? []"
          :shown="shown"
          :may-edit="mayEdit"
          @show="show"
          @begin="begin"
          @gone="page.refresh().then(() => show(null))"
          @undone="page.load()"
        />
      </Suspense>
    </template>
    <StructureUse
      v-if="using && shown"
      :bill-id="shown.id"
      :revisions="revisions ?? []"
      :item="item"
      :version="page.version.value"
      @done="used"
      @close="using = false"
    />
    <StructurePick v-if="several" @done="addSeveral" @close="several = false" />
    <StructureBridge
      v-if="bridge"
      :item-id="bridge.itemId"
      :code="items.get(bridge.itemId)?.code ?? ''"
      :from="bridge.from"
      :to="bridge.to"
      @done="bridged"
      @close="bridge = null"
    />
  </div>
</template>
