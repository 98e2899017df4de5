<script setup lang="ts">
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{
  item: MeasuredItem & {
    code: string
    name: string
    source: string
    price: string | null
    sellingUnit: string
    kitPolicy: string
  }
  sheet: { whereUsed: readonly unknown[] }
  source: string
  version: number
  mayEdit: boolean
}>()
const emit = defineEmits<{ undone: [gone: boolean] }>()
const route = useRoute()
const firstPart = props.source === 'made' || props.source === 'kit' ? 'structure' : 'used'
const part = ref(route.query.part === 'break-down' ? 'break-down' : firstPart)
const tabs = computed(() => [
  ...(props.source === 'made' || props.source === 'kit'
    ? [{ key: 'structure', name: props.source === 'kit' ? 'Contents' : 'Bill of materials' }]
    : []),
  { key: 'break-down', name: props.source === 'broken down' ? 'Comes from' : 'Break-down' },
  { key: 'used', name: 'Where used', count: props.sheet.whereUsed.length },
  { key: 'moves', name: 'Moves' },
  { key: 'changes', name: 'Changes' },
])
watchEffect(() => {
  if (!tabs.value.some((tab) => tab.key === part.value)) {
    part.value = tabs.value[0]!.key
  }
})
</script>

<template>
  <section>
    <UiTabs v-model="part" :tabs="tabs" />
    <Suspense>
      <StructureSummary
        v-if="part === 'structure'"
        :key="`bill-${item.id} ${source}`"
        :item="{ ...item, source, price: item.price ?? '' }"
        :may-edit="mayEdit"
      />
      <StructureRecipes v-else-if="part === 'break-down'" :key="`ways-${item.id}`" :item="item" :may-edit="mayEdit" />
      <StructureUses v-else-if="part === 'used'" :key="`uses-${item.id}`" :item="item" :may-edit="mayEdit" />
      <StockMoves v-else-if="part === 'moves'" :item="item.id" />
      <UiSheet v-else
        ><CatalogueChanges
          :id="item.id"
          kind="items"
          :version="version"
          :may-edit="mayEdit"
          @undone="(gone) => emit('undone', gone)"
      /></UiSheet>
    </Suspense>
  </section>
</template>
