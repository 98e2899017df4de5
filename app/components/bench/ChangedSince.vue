<script setup lang="ts">
import type { GoodsState } from '~/components/goods/Block.vue'
import type { ChangedSince } from '~~/shared/company/today'

/** What has come in and been recorded since the last working day, in a line. */
const props = defineProps<{ changed: ChangedSince }>()
const { longDay } = usePrint()
interface Told {
  readonly one: string
  readonly several: string
  readonly state: GoodsState
  readonly link: string
}
const MOVES = '/stock?tab=moves'
const KINDS: Readonly<Record<string, Told>> = {
  'sales order': { one: 'new sales order', several: 'new sales orders', state: 'allocated', link: '/demand' },
  'purchase order': { one: 'new purchase order', several: 'new purchase orders', state: 'coming', link: '/purchasing' },
  'goods receipt': { one: 'goods receipt', several: 'goods receipts', state: 'on hand', link: MOVES },
  'direct delivery': { one: 'direct delivery', several: 'direct deliveries', state: 'allocated', link: '/purchasing' },
  build: { one: 'build recorded', several: 'builds recorded', state: 'making', link: MOVES },
  'kit packing': { one: 'kit packing', several: 'kit packings', state: 'making', link: MOVES },
  'break-down': { one: 'break-down', several: 'break-downs', state: 'making', link: MOVES },
  shipment: { one: 'shipment', several: 'shipments', state: 'allocated', link: '/dispatch' },
  'transfer out': { one: 'transfer sent', several: 'transfers sent', state: 'on hand', link: '/stock?tab=transfers' },
  'transfer in': {
    one: 'transfer received',
    several: 'transfers received',
    state: 'on hand',
    link: '/stock?tab=transfers',
  },
  'stock count': { one: 'count recorded', several: 'counts recorded', state: 'held', link: '/stock?tab=counts' },
  correction: { one: 'stock correction', several: 'stock corrections', state: 'held', link: MOVES },
}
const told = computed(() =>
  props.changed.changes.map(({ kind, count }) => {
    const { one, several, state, link } = KINDS[kind] ?? { one: kind, several: kind, state: 'on hand', link: MOVES }
    return { kind, state, link, text: `${count} ${plural(count, one, several)}` }
  }),
)
</script>

<template>
  <section class="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1" aria-label="What has changed">
    <span class="text-soft">Since {{ longDay(changed.since) }}</span>
    <NuxtLink
      v-for="change in told"
      :key="change.kind"
      :to="change.link"
      class="flex min-h-[24px] items-center gap-1.5 hover:underline"
      ><GoodsBlock :state="change.state" class="h-3 w-4 border" />{{ change.text }}</NuxtLink
    >
    <span v-if="told.length === 0">nothing has been recorded</span>
  </section>
</template>
