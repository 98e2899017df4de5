<script setup lang="ts">
const props = defineProps<{ item: { id: number, code: string, stockUnit: string } }>()
const sheets = useSheets()
const { price } = usePrint()
const quantity = ref('1')
const { data } = await useFetch(() => `/api/structure/${props.item.id}/explode`, { query: { quantity } })
/** Courses of blocks: made items stand on what they are made of; bought items lie on the ground. A block's width is its share of cost. */
const courses = computed(() => {
  const rows = data.value?.rows ?? []
  const last = Math.max(0, ...rows.map(row => row.level))
  return Array.from({ length: last }, (_, at) => rows.filter(row => row.level === at + 1).sort((a, b) => Number(b.cost) - Number(a.cost)))
})
const sorted = computed(() => [...data.value?.rows ?? []].sort((a, b) => a.level - b.level))
const LOOK: Readonly<Record<string, string>> = { 'made': 'bg-slate/15 border-slate', 'kit': 'bg-slate/15 border-slate', 'broken down': 'bg-slate/15 border-slate', 'bought': 'bg-maple/20 border-maple' }
</script>

<template>
  <UiSheet title="What it rests on">
    <template #head><label class="flex items-center gap-2 text-fine text-soft">for <input v-model.lazy="quantity" class="h-7 w-16 rounded-block border border-line bg-sheet px-2 text-right text-ink" aria-label="Quantity of the tower"> {{ data?.symbol }}</label></template>
    <div v-if="data">
      <div class="mx-auto mb-1 flex h-10 w-3/5 items-center justify-center gap-2 rounded-block border-2 border-maple bg-maple-face font-semibold text-[#2a2520]">{{ item.code }} <span class="font-normal">{{ price(data.cost) }}</span></div>
      <div v-for="(course, index) in courses" :key="index" class="mb-1 flex gap-1">
        <button
          v-for="row in course" :key="row.itemId" type="button" class="@container h-11 min-w-[25px] overflow-hidden rounded-block border-2 px-1 text-left text-fine leading-tight" :style="{ flexGrow: Math.max(0.02, Number(row.cost)), flexBasis: 0 }"
          :class="row.isShort ? 'border-dashed border-brick bg-transparent' : LOOK[row.source]" :title="`${row.code} ${row.name}: ${row.quantity} ${row.symbol}, ${row.free} free, costs ${row.cost}`" @click="sheets.open(row.itemId)"
        >
          <span class="block truncate font-medium">{{ row.code }}</span><span class="hidden truncate text-soft @[3.2rem]:block">{{ price(row.cost) }}</span>
        </button>
      </div>
      <p class="mt-2 text-fine text-soft">Width is the share of cost. A dashed block is not there in the quantity needed.</p>
      <table class="mt-3 w-full text-fine"><tbody><tr v-for="row in sorted" :key="row.itemId" class="border-b border-line/60 last:border-0"><td class="py-1" :style="{ paddingLeft: `${(row.level - 1) * 0.75}rem` }">{{ row.code }}</td><td class="text-right"><UiQty :of="row.quantity" :unit="row.symbol" :decimals="4" /></td><td class="pl-3 text-right" :class="row.isShort ? 'font-medium text-brick' : 'text-soft'">{{ row.isShort ? 'short' : 'there' }}</td></tr></tbody></table>
    </div>
  </UiSheet>
</template>
