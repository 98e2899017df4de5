<script setup lang="ts">
import type { NeededComponent } from '~~/shared/workshop/answers'
defineProps<{ components: readonly NeededComponent[]; done?: boolean }>()
const { day, amount } = usePrint()
</script>

<template>
  <UiLinesTable class="w-full" aria-label="Components">
    <thead>
      <tr class="text-left text-fine text-soft">
        <th class="px-3 py-2 font-medium">Component</th>
        <th class="px-3 py-2 text-right font-medium">{{ done ? 'Issued' : 'Quantity' }}</th>
        <th class="px-3 py-2 font-medium">From</th>
        <th class="px-3 py-2 font-medium">Lot</th>
        <th v-if="!done" class="px-3 py-2 text-right font-medium">There before → after</th>
      </tr>
    </thead>
    <tbody v-for="part in components" :key="part.itemId" class="border-t border-line/60">
      <tr v-for="(take, index) in part.takes" :key="index" class="h-9">
        <td class="px-3"><UiItemChip v-if="index === 0" :id="part.itemId" :code="part.code" :name="part.name" /></td>
        <td class="px-3 text-right"><UiQty strong :of="take.quantity" :unit="part.symbol" /></td>
        <td class="px-3">{{ take.bin }}</td>
        <td class="px-3">
          {{ take.lot }}<span v-if="take.expiresOn" class="text-soft"> until {{ day(take.expiresOn) }}</span>
        </td>
        <td v-if="!done" class="px-3 text-right">
          <UiChange :before="amount(take.before, 6)" :after="amount(take.after, 6)" :unit="part.symbol" />
        </td>
      </tr>
      <tr v-if="part.missing !== '0'" class="h-9">
        <td class="px-3">
          <UiItemChip v-if="part.takes.length === 0" :id="part.itemId" :code="part.code" :name="part.name" />
        </td>
        <td class="px-3 text-right text-brick" colspan="4">
          <span class="flex items-center gap-2"
            ><GoodsBlock state="missing" class="h-4 w-8" /><b class="font-semibold"
              >{{ amount(part.missing, 6) }} {{ part.symbol }} missing</b
            >
            of {{ amount(part.need, 6) }} {{ part.symbol }}</span
          >
        </td>
      </tr>
    </tbody>
  </UiLinesTable>
</template>
