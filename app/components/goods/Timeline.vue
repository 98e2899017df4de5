<script setup lang="ts">
import type { TimelineRow } from '~~/shared/catalogue/answers'
import { ratio } from '~~/core/units/exact'
const props = defineProps<{ rows: readonly TimelineRow[]; symbol: string; onHand: string }>()
const { day, amount, isPast } = usePrint()
const shown = computed(() => props.rows.slice(0, 12))
const largest = computed(() =>
  Math.max(...props.rows.map((row) => Math.abs(ratio(row.balance).valueOf())), ratio(props.onHand).valueOf(), 1e-9),
)
const height = (text: string): string => `${Math.max(2, (Math.abs(ratio(text).valueOf()) / largest.value) * 28)}px`
</script>

<template>
  <figure v-if="rows.length" class="m-0 overflow-x-auto" aria-label="Supply and demand, with the balance after each">
    <ol class="flex items-end gap-2 border-b border-line">
      <li class="w-20 shrink-0">
        <span class="flex h-9 items-end justify-center"
          ><GoodsBlock v-if="onHand !== '0'" state="on hand" class="w-10" :style="{ height: height(onHand) }"
        /></span>
        <span class="block text-center text-fine text-soft">today</span
        ><span class="block text-center text-fine">&nbsp;</span
        ><span class="block truncate text-center text-fine text-soft">{{ amount(onHand, 2) }} {{ symbol }}</span>
      </li>
      <li v-for="(row, index) in shown" :key="index" class="w-20 shrink-0">
        <NuxtLink :to="row.link" class="block rounded-block hover:bg-wash" :title="row.label">
          <span class="flex h-9 items-end justify-center"
            ><GoodsBlock
              :state="
                row.balance.startsWith('-')
                  ? 'missing'
                  : row.change.startsWith('-')
                    ? 'on hand'
                    : row.kind === 'purchase order'
                      ? 'coming'
                      : 'making'
              "
              class="w-10"
              :style="{ height: height(row.balance) }"
          /></span>
          <span class="block truncate text-center text-fine" :class="isPast(row.day) ? 'text-brick' : 'text-soft'">{{
            day(row.day)
          }}</span>
          <span class="block truncate text-center text-fine font-medium"
            >{{ row.change.startsWith('-') ? '' : '+' }}{{ amount(row.change, 2) }}</span
          >
          <span
            class="block truncate text-center text-fine"
            :class="row.balance.startsWith('-') ? 'font-semibold text-brick' : 'text-soft'"
            >{{ amount(row.balance, 2) }} {{ symbol }}</span
          >
        </NuxtLink>
      </li>
      <li v-if="rows.length > shown.length" class="self-center pl-1 text-fine text-soft">
        and {{ rows.length - shown.length }} more
      </li>
    </ol>
  </figure>
</template>
