<script setup lang="ts">
import type { BuildableAnswer } from '~~/shared/structure/answers'
import type { Revision } from '~~/shared/structure/answers'
import { PartStructure, type Parts } from '~~/shared/structure/parts'

const props = defineProps<{
  item: {
    id: number
    code: string
    name: string
    source: string
    price: string
    sellingUnit: string
    stockUnit: string
    kitPolicy: string
  }
  mayEdit: boolean
}>()
const { price } = usePrint()
const isKit = computed(() => props.item.source === 'kit')
const [{ data: revisions }, { data: parts }] = await Promise.all([
  useFetch<Revision[]>(`/api/structure/${props.item.id}/revisions`),
  useFetch<Parts>('/api/structure/parts', { query: { of: props.item.id } }),
])
const current = computed(() => revisions.value?.find((revision) => revision.state === 'current') ?? null)
const structure = computed(() => {
  const built = parts.value ? PartStructure.of(parts.value) : null
  return built?.ok ? built.value : null
})
const can = ref<BuildableAnswer | null>(null)
if (current.value) {
  can.value = await $fetch<BuildableAnswer>('/api/structure/buildable', {
    method: 'POST',
    body: { wanted: [{ itemId: props.item.id, quantity: '1' }] },
  }).catch(() => null)
}
const { missing, partsPrice } = useKitFacts(
  () => props.item,
  () => structure.value,
  () => current.value,
)
</script>

<template>
  <div v-if="current && structure" class="grid items-start gap-4 grid-cols-1 md:grid-cols-[minmax(0,1fr)_25.5rem]">
    <UiSheet :title="isKit ? 'What one kit holds' : 'What it is made of'">
      <template #head
        ><NuxtLink :to="`/structure/${item.id}`" class="underline"
          >Open the {{ isKit ? 'contents' : 'bill' }}, revision {{ current.revision }}</NuxtLink
        ></template
      >
      <p v-if="can" class="mb-3">
        <b class="text-lg font-semibold"><UiQty :of="can.wanted[0]!.can" :unit="can.wanted[0]!.symbol" /></b>{{ ' ' }}
        <span class="text-soft"
          >can be {{ isKit ? 'packed' : 'made' }} now<template v-if="isKit && can.wanted[0]!.onHand !== '0'"
            >, beside {{ can.wanted[0]!.onHand }} packed ahead</template
          ><template v-if="can.next[0]"
            >; then {{ can.next.map((use) => use.code).join(', ') }} runs out</template
          ></span
        >
      </p>
      <p v-if="isKit" class="mb-3 text-soft">
        Shipped
        {{
          item.kitPolicy === 'sealed'
            ? 'sealed: always packed ahead'
            : item.kitPolicy === 'open'
              ? 'open: always picked as its components'
              : 'either way: packed ones while there are some, else as components'
        }}.<template v-if="partsPrice">
          Its parts sell for {{ price(partsPrice.sum) }} one by one; the kit for
          {{ item.price ? price(item.price) : 'no price yet'
          }}<template v-if="partsPrice.than">, {{ partsPrice.than }}</template
          >.<template v-if="partsPrice.without.length">
            {{ partsPrice.without.join(', ') }} {{ plural(partsPrice.without.length, 'has', 'have') }} no selling
            price.</template
          ></template
        >
      </p>
      <StructureBelow :item-id="item.id" :structure="structure" :deep="1" />
    </UiSheet>
    <StructureTower :structure="structure" :item-id="item.id" />
  </div>
  <UiSheet v-else>
    <UiEmptyState
      :title="isKit ? 'Not ready for use' : 'No bill in use'"
      :summary="
        missing || (revisions?.length ? 'There is a draft; use it from a day on.' : `Say what goes into ${item.code}.`)
      "
      ><NuxtLink :to="`/structure/${item.id}`" class="underline">{{
        revisions?.length ? 'Open the draft' : mayEdit ? 'Write it' : 'Open it'
      }}</NuxtLink></UiEmptyState
    >
  </UiSheet>
</template>
