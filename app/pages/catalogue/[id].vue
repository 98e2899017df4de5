<script setup lang="ts">
import { asForm } from '~/composables/ui/as-form'
import { drawnItem, itemOf, takeSettled, type ItemForm } from '~/composables/catalogue/use-item-form'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const [found, { data: sheet, refresh: refreshSheet }, { data: moves }] = await Promise.all([
  useFetch(() => `/api/catalogue/items/${id.value}`),
  useFetch(() => `/api/catalogue/items/${id.value}/sheet`),
  useFetch('/api/stock/moves', { query: { item: id, size: 1 } }),
])
const { data: item } = orNotFound(found)
const mayEdit = computed(() => session.allows('catalogue'))
const form = ref(asForm(item.value!) as unknown as ItemForm)
const version = ref(item.value!.version)
/** Whether what other packs and bridges change elsewhere has been looked at. */
const confirmed = ref(false)
const saving = useSaving(
  form,
  async (sent) => {
    const stored = await $fetch(`/api/catalogue/items/${id.value}`, {
      method: 'PUT',
      body: { version: version.value, definition: itemOf(sent), confirmed: confirmed.value },
    })
    confirmed.value = false
    version.value = stored.version
    forgetMeasured(id.value)
    takeSettled(form.value, sent, asForm(stored) as unknown as ItemForm)
    await refreshSheet()
  },
  () => mayEdit.value,
)
async function reload(): Promise<void> {
  const stored = await $fetch(`/api/catalogue/items/${id.value}`)
  version.value = stored.version
  saving.accept(asForm(stored) as unknown as ItemForm)
  forgetMeasured(id.value)
  await refreshSheet()
}
async function saveConfirmed(): Promise<void> {
  confirmed.value = true
  await saving.commit()
  confirmed.value = false
}
const undoLast = (): Promise<void> => undoLatest('items', id.value, reload)
const { SECTIONS, opened, toggle } = useItemSections(form, () => sheet.value, saving.fields)
const { inPacks } = useMeasure(() => drawnItem(form.value))
const packed = computed(() => inPacks(sheet.value?.onHand ?? '0'))
const moved = computed(() => (moves.value?.total ?? 0) > 0)
const names = computed(() =>
  Object.fromEntries((sheet.value?.substitutes ?? []).map((substitute) => [substitute.id, substitute])),
)
const sourceBefore = item.value!.source
const printing = ref(false)
useKeys([
  ...SECTIONS.map((section) => ({
    key: section.shortcut,
    summary: `${section.title.toLowerCase()}: open or fold`,
    act: () => toggle(section.key),
  })),
  {
    key: 'C',
    summary: 'correct its quantity',
    act: () => {
      void navigateTo(`/stock?correct=${id.value}`)
    },
  },
  {
    key: 'D',
    summary: 'duplicate it',
    act: () => {
      void navigateTo(`/catalogue/new?like=${id.value}`)
    },
  },
])
useHead({ title: () => `${form.value.code} · Tsumiki` })
</script>

<template>
  <div v-if="item && sheet">
    <UiHead
      :title="`${form.code}  ${form.name}`"
      :summary="`${form.source}${sheet.supplier ? ` from ${sheet.supplier}` : ''} · ${sheet.group}${form.note ? ` · ${form.note}` : ''}`"
    >
      <UiSaveState
        v-if="mayEdit"
        :state="saving.state.value"
        :detail="saving.detail.value"
        :stale="saving.code.value === 'stale-version'"
        :undoable="saving.count.value > 0"
        @back="saving.back()"
        @reload="reload"
        @undo="undoLast"
      />
      <UiTag v-if="form.status !== 'active'" tone="problem">{{ form.status }}</UiTag>
      <UiButton @click="printing = true">Labels</UiButton>
      <UiButton v-if="mayEdit" @click="navigateTo(`/catalogue/new?like=${item.id}`)">Duplicate</UiButton>
      <UiButton
        v-if="session.allows('stock') && form.kind === 'stocked'"
        @click="navigateTo(`/stock?correct=${item.id}`)"
        >Correct stock</UiButton
      >
    </UiHead>
    <UiSheet class="mb-4">
      <div
        class="grid items-start gap-6"
        :class="form.pictureId ? 'grid-cols-1 md:grid-cols-[6rem_1fr_20rem]' : 'grid-cols-1 md:grid-cols-[1fr_20rem]'"
      >
        <img
          v-if="form.pictureId"
          :src="`/api/catalogue/pictures/${form.pictureId}?size=small`"
          alt=""
          class="size-24 rounded-block border border-line object-cover"
        />
        <div class="grid gap-4">
          <GoodsStack
            :on-hand="sheet.onHand"
            :allocated="sheet.allocated"
            :coming="sheet.coming"
            :making="sheet.making"
            :held="sheet.held"
            :wanted="sheet.wanted"
            :safety="sheet.safetyStock"
            :reorder="sheet.reorderPoint"
            :maximum="sheet.maximumStock"
            :symbol="sheet.symbol"
            :decimals="sheet.decimals"
            :packed="packed"
          />
          <GoodsBalanceWeeks
            :rows="sheet.timeline"
            :on-hand="sheet.onHand"
            :safety-stock="sheet.safetyStock"
            :symbol="sheet.symbol"
            :source="sheet.source"
          />
          <GoodsTimeline :rows="sheet.timeline" :symbol="sheet.symbol" :on-hand="sheet.onHand" />
        </div>
        <CatalogueUnitLadder :item="drawnItem(form)" />
      </div>
    </UiSheet>
    <UiProblem
      :text="Object.keys(saving.fields.value).length || saving.effects.value.length ? '' : saving.detail.value"
      class="mb-3"
    />
    <form
      data-saves
      aria-label="The item"
      class="rounded-md border border-line bg-sheet"
      @submit.prevent="saving.commit()"
    >
      <UiFold
        v-for="section in SECTIONS"
        :key="section.key"
        v-model="opened[section.key]"
        :title="section.title"
        :summary="section.summary.value"
        :shortcut="section.shortcut"
        :faults="section.faults.value"
      >
        <Suspense>
          <CatalogueItemBasics
            v-if="section.key === 'basics'"
            v-model="form"
            :item-id="id"
            :fields="saving.fields.value"
            :disabled="!mayEdit"
          />
          <CatalogueItemUnits
            v-else-if="section.key === 'units'"
            v-model="form"
            :fields="saving.fields.value"
            :moved="moved"
            :disabled="!mayEdit"
          />
          <CatalogueItemSupply
            v-else-if="section.key === 'supply'"
            v-model="form"
            :fields="saving.fields.value"
            :moved="moved"
            :disabled="!mayEdit"
            :before="sourceBefore"
          />
          <CatalogueItemSelling
            v-else-if="section.key === 'selling'"
            v-model="form"
            :fields="saving.fields.value"
            :disabled="!mayEdit"
          />
          <CatalogueItemMarks
            v-else-if="section.key === 'marks'"
            v-model="form"
            :fields="saving.fields.value"
            :disabled="!mayEdit"
          />
          <CatalogueItemCodes
            v-else-if="section.key === 'codes'"
            v-model="form"
            :fields="saving.fields.value"
            :disabled="!mayEdit"
            :item-id="item.id"
          />
          <CatalogueItemSubstitutes
            v-else-if="section.key === 'substitutes'"
            v-model="form"
            :fields="saving.fields.value"
            :disabled="!mayEdit"
            :names="names"
          />
          <CatalogueItemTexts
            v-else-if="section.key === 'texts'"
            v-model="form"
            :fields="saving.fields.value"
            :disabled="!mayEdit"
          />
        </Suspense>
      </UiFold>
    </form>
    <CatalogueItemAbout
      :item="item"
      :sheet="sheet"
      :source="form.source"
      :version="version"
      :may-edit="mayEdit"
      class="mt-4"
      @undone="(gone) => (gone ? navigateTo('/catalogue') : reload())"
    />
    <UiNeedsYes
      v-if="saving.effects.value.length > 0"
      :title="`Other packs and bridges of ${form.code}`"
      act="Change them"
      :effects="saving.effects.value"
      :busy="saving.state.value === 'saving'"
      @confirm="saveConfirmed"
      @leave="saving.back()"
      >Stock and open documents keep their quantity in the stock unit. Bills keep what they say, and need as much as it
      is then.</UiNeedsYes
    >
    <CatalogueLabels
      v-if="printing"
      :items="[{ id: item.id, code: form.code, units: sheet.units }]"
      @close="printing = false"
    />
  </div>
</template>
