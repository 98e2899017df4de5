<script setup lang="ts">
import { asForm } from '~/composables/ui/as-form'
import { blankItem, followStockUnit, itemOf, type ItemForm } from '~/composables/catalogue/use-item-form'

const route = useRoute()
const references = useReferences()
const notices = useNotices()
const session = useSession()
const first = references.groupChoices.length === 1 ? references.groupChoices[0]!.value : null
/** A duplicate takes over all but what names the item itself. */
async function begin(): Promise<ItemForm> {
  if (!route.query.like) {
    return blankItem(first, references.groups.find((group) => group.id === first)?.summary ?? {})
  }
  const like = asForm(await $fetch(`/api/catalogue/items/${Number(route.query.like)}`)) as unknown as ItemForm
  const priced = session.allows('prices') ? {} : { price: '', lowestPrice: '', highestPrice: '', prices: [] }
  return { ...like, ...priced, code: '', name: `${like.name} (copy)`, status: 'active', codes: [] }
}
const form = ref(await begin())
const draft = useDraft(
  'item',
  { read: () => form.value, write: (state) => (form.value = state) },
  route.query.like === undefined,
)
const { busy, detail, fields, run } = useAct()
const { SECTIONS, opened, toggle } = useItemSections(form, () => null, fields, ['basics', 'units', 'supply'])

useKeys(
  SECTIONS.map((section) => ({
    key: section.shortcut,
    summary: `${section.title.toLowerCase()}: open or fold`,
    act: () => {
      void toggle(section.key)
    },
  })),
)
const unitOf = (code: string) => references.units.find((unit) => unit.code === code)
watch(
  () => form.value.stockUnit,
  (now, before) => followStockUnit(form.value, unitOf(before), unitOf(now)),
)
useHead({ title: 'New item · Tsumiki' })

async function leave(): Promise<void> {
  draft.discard()
  await navigateTo('/catalogue')
}
async function save(): Promise<void> {
  const made = await run(() => $fetch('/api/catalogue/items', { method: 'POST', body: itemOf(form.value) }))
  if (!made) {
    return
  }
  draft.discard()
  notices.say({ kind: 'done', text: `${form.value.code} is in the catalogue.` })
  await navigateTo(`/catalogue/${made.id}`)
}
</script>

<template>
  <form data-makes @submit.prevent="save">
    <UiHead
      :title="route.query.like ? 'Duplicate of an item' : 'New item'"
      summary="What is missing on the way (a group, a unit, a supplier) is added from here."
      ><UiButton @click="leave">Cancel</UiButton
      ><UiButton primary type="submit" :busy="busy">Add the item</UiButton></UiHead
    >
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem :text="detail" class="mb-3" />
    <div class="rounded-md border border-line bg-sheet">
      <UiFold
        v-for="section in SECTIONS"
        :key="section.key"
        v-model="opened[section.key]"
        :title="section.title"
        :summary="section.summary.value"
        :shortcut="section.shortcut"
        :faults="section.faults.value"
      >
        <CatalogueItemBasics v-if="section.key === 'basics'" v-model="form" :fields="fields" fresh />
        <CatalogueItemUnits v-else-if="section.key === 'units'" v-model="form" :fields="fields" ladder />
        <CatalogueItemSupply v-else-if="section.key === 'supply'" v-model="form" :fields="fields" />
        <CatalogueItemSelling v-else-if="section.key === 'selling'" v-model="form" :fields="fields" />
        <CatalogueItemMarks v-else-if="section.key === 'marks'" v-model="form" :fields="fields" />
        <CatalogueItemCodes v-else-if="section.key === 'codes'" v-model="form" :fields="fields" />
        <CatalogueItemSubstitutes
          v-else-if="section.key === 'substitutes'"
          v-model="form"
          :fields="fields"
          :names="{}"
        />
        <CatalogueItemTexts v-else-if="section.key === 'texts'" v-model="form" :fields="fields" />
      </UiFold>
    </div>
  </form>
</template>
