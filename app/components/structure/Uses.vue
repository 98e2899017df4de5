<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { WhereUsedRow } from '~~/shared/structure/answers'

const props = defineProps<{ item: ItemName; mayEdit: boolean }>()
const { data, refresh } = await useFetch<WhereUsedRow[]>(() => `/api/structure/${props.item.id}/where-used`)
const replacing = ref(false)
</script>

<template>
  <UiSheet title="Where used" flush>
    <template #head
      ><a :href="`/api/structure/${item.id}/where-used?format=csv`" class="text-soft underline" download>CSV</a
      ><a :href="`/api/structure/${item.id}/where-used?format=xlsx`" class="text-soft underline" download>XLSX</a
      ><UiButton v-if="mayEdit && data?.length" @click="replacing = true">Replace it in bills</UiButton></template
    >
    <ul v-if="data?.length" class="px-4 py-2">
      <li
        v-for="use in data"
        :key="use.itemId"
        class="flex items-baseline gap-4 border-b border-line/50 py-1 last:border-0"
        :style="{ paddingLeft: `${(use.level - 1) * 1.5}rem` }"
      >
        <UiItemChip :id="use.itemId" :code="use.code" :name="use.name" /><span class="text-soft"
          >takes <UiQty :of="use.quantity" :unit="use.symbol" /> for one {{ use.parentSymbol
          }}<template v-if="use.level > 1">, over all levels</template></span
        ><NuxtLink :to="`/structure/${use.itemId}`" class="ml-auto text-fine underline">bill</NuxtLink>
      </li>
    </ul>
    <UiEmptyState v-else title="It goes into nothing" summary="No bill or kit in use holds this item." />
    <Suspense v-if="replacing"
      ><StructureReplace
        :item="item"
        @done="
          () => {
            replacing = false
            refresh()
          }
        "
        @close="replacing = false"
    /></Suspense>
  </UiSheet>
</template>
