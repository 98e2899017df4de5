<script setup lang="ts">
import { explodeIndented } from '~~/core/structure'
import { ratio, toText } from '~~/core/units/exact'
import type { PartStructure } from '~~/shared/structure/parts'

const props = defineProps<{ itemId: number; structure: PartStructure; deep?: number }>()
const rows = computed(() => {
  const written = explodeIndented(props.structure.structure, String(props.itemId), ratio(1), {
    most: 300,
    deep: props.deep ?? Infinity,
  })
  return written.ok
    ? written.value.map((row) => ({
        item: props.structure.items.get(row.item)!,
        depth: row.depth,
        quantity: toText(row.quantity),
      }))
    : []
})
</script>

<template>
  <UiLinesTable class="w-full text-fine" :aria-label="`Below ${structure.items.get(String(itemId))?.code}`">
    <tbody>
      <tr v-for="(row, index) in rows" :key="index" class="border-t border-line/40">
        <td class="py-0.5" :style="{ paddingLeft: `${row.depth * 1.1}rem` }">
          <UiItemChip :id="row.item.id" :code="row.item.code" :name="row.item.name" />
        </td>
        <td class="py-0.5 text-right"><UiQty :of="row.quantity" :unit="row.item.symbol" :decimals="4" /></td>
      </tr>
      <tr v-if="rows.length === 0">
        <td class="text-soft">Nothing is written down below it.</td>
      </tr>
    </tbody>
  </UiLinesTable>
</template>
