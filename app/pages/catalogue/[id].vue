<script setup lang="ts">
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const notices = useNotices()
const { data: item, refresh } = orNotFound(await useFetch(() => `/api/catalogue/items/${id.value}`))
const { data: sheet, refresh: refreshSheet } = await useFetch(() => `/api/catalogue/items/${id.value}/sheet`)
const { data: moves } = await useFetch('/api/stock/moves', { query: { item: id, size: 1 } })
const form = ref(formOf(item.value ?? null))
watch(item, (loaded) => { form.value = formOf(loaded ?? null) })
const { busy, detail, fields, code, run } = useAct()
const part = ref('structure')
const mayEdit = computed(() => session.allows('catalogue'))
const isDirty = computed(() => JSON.stringify(form.value) !== JSON.stringify(formOf(item.value ?? null)))
const tabs = computed(() => [
  ...item.value?.source === 'made' || item.value?.source === 'kit' ? [{ key: 'structure', name: item.value.source === 'kit' ? 'Contents' : 'Bill of materials' }] : [],
  { key: 'break-down', name: 'Break-down' }, { key: 'used', name: 'Goes into', count: sheet.value?.whereUsed.length }, { key: 'moves', name: 'Moves', count: moves.value?.total }, { key: 'details', name: 'Units, terms, details' },
])
watchEffect(() => { if (!tabs.value.some(tab => tab.key === part.value)) part.value = item.value?.source === 'bought' ? 'details' : tabs.value[0]!.key })
useKeys([{ key: 'c', says: 'correct its quantity', act: () => { void navigateTo(`/stock?correct=${id.value}`) } }])
useHead({ title: () => `${item.value?.code} · Tsumiki` })

async function save(): Promise<void> {
  const saved = await run(() => $fetch(`/api/catalogue/items/${id.value}`, { method: 'PUT', body: { ...bodyOf(form.value), version: item.value!.version } }))
  if (!saved) return
  forgetMeasured(id.value)
  notices.say({ kind: 'done', text: `${form.value.code} is changed.` })
  await Promise.all([refresh(), refreshSheet()])
}
</script>

<template>
  <div v-if="item && sheet">
    <UiHead :title="`${item.code}  ${item.name}`" :says="`${item.source}${sheet.supplier ? ` from ${sheet.supplier}` : ''} · ${sheet.group}${item.note ? ` · ${item.note}` : ''}`">
      <UiTag v-if="item.status !== 'active'" tone="problem">{{ item.status }}</UiTag>
      <UiButton v-if="session.allows('stock')" @click="navigateTo(`/stock?correct=${item.id}`)">Correct the quantity</UiButton>
    </UiHead>
    <UiSheet class="mb-4">
      <div class="grid grid-cols-[1fr_22rem] gap-8">
        <GoodsStack :on-hand="sheet.onHand" :allocated="sheet.allocated" :coming="sheet.coming" :making="sheet.making" :held="sheet.held" :wanted="sheet.wanted" :safety="sheet.safetyStock" :symbol="sheet.symbol" :decimals="sheet.decimals" />
        <CatalogueUnitLadder :item="item" />
      </div>
    </UiSheet>
    <UiTabs v-model="part" :tabs="tabs" />
    <Suspense>
      <StructureBill v-if="part === 'structure'" :key="`bill-${item.id}`" :item="item" :may-edit="mayEdit" @saved="refreshSheet()" />
      <StructureRecipe v-else-if="part === 'break-down'" :key="`recipe-${item.id}`" :item="item" :may-edit="mayEdit" />
      <UiSheet v-else-if="part === 'used'"><ul v-if="sheet.whereUsed.length"><li v-for="use in sheet.whereUsed" :key="use.itemId" class="flex items-baseline gap-4 py-1" :style="{ paddingLeft: `${(use.level - 1) * 1.5}rem` }"><UiItemChip :id="use.itemId" :code="use.code" :name="use.name" /><span class="text-soft">takes <UiQty :of="use.quantity" :unit="use.symbol" /> for one {{ use.parentSymbol }}</span></li></ul><UiEmpty v-else title="It goes into nothing" says="No bill, kit or break-down uses this item." /></UiSheet>
      <StockMoves v-else-if="part === 'moves'" :item="item.id" />
      <form v-else @submit.prevent="save">
        <UiProblem :text="detail" class="mb-3" />
        <UiSheet>
          <CatalogueItemForm v-model="form" :fields="fields" :moved="(moves?.total ?? 0) > 0" />
          <div v-if="mayEdit" class="mt-4 flex items-center gap-2 border-t border-line pt-4"><UiButton primary type="submit" :busy="busy" :disabled="!isDirty">Save the item</UiButton><UiButton :disabled="!isDirty" @click="form = formOf(item)">Leave as it was</UiButton><UiButton v-if="code === 'stale-version'" @click="refresh()">Reload</UiButton></div>
        </UiSheet>
      </form>
    </Suspense>
  </div>
</template>
