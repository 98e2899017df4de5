<script setup lang="ts">
import type { Bucket } from '~/composables/planning/use-board'
import type { BoardRow } from '~/composables/planning/use-board-rows'

defineProps<{ row: BoardRow; buckets: readonly Bucket[] }>()
// By keys the cell above opens the same: arrows lead there.
const { ofSteps } = usePrint()
const emit = defineEmits<{ open: [column: number] }>()
</script>

<template>
  <tr v-for="[key, name] in BOARD_LINES" :key="key" class="text-fine">
    <th scope="row" class="sticky left-0 z-10 bg-sheet px-3 py-0.5 pl-10 text-left font-normal text-soft">
      {{ name }}
    </th>
    <td
      v-for="(cell, index) in row.cells"
      :key="buckets[index]!.key"
      class="border-l border-line/40 px-1.5 text-right"
      :class="key === 'projectedAvailable' ? 'font-semibold' : ''"
    >
      <button
        v-if="cell[key] !== 0 || key === 'projectedAvailable'"
        type="button"
        tabindex="-1"
        class="block min-h-[24px] w-full text-right hover:underline"
        :aria-label="`${name} of ${row.item.code}, ${buckets[index]!.label}: ${ofSteps(cell[key], row.item.step)}, what it is made of`"
        @click="emit('open', index)"
      >
        {{ ofSteps(cell[key], row.item.step) }}
      </button>
    </td>
  </tr>
</template>
