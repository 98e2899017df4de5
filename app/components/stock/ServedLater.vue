<script setup lang="ts">
import type { ServedLater } from '~~/shared/stock/served-later'

/** Who is served later: each with what it wants and when that is there. */
defineProps<{ rows: readonly (ServedLater & { readonly isOwnNeed?: boolean })[] }>()
const { day, digits } = usePrint()
</script>

<template>
  <p class="mt-2 font-semibold text-brick">That makes late:</p>
  <ul class="mt-1">
    <li v-for="row in rows" :key="`${row.label} ${row.code}`" class="border-b border-line/60 py-1.5 last:border-0">
      <NuxtLink :to="row.link" class="font-medium underline">{{ row.label }}</NuxtLink>{{ ' '
      }}<template v-if="row.isOwnNeed">needs</template><template v-else>wants</template> {{ digits(row.quantity) }}
      {{ row.symbol }} {{ row.code }} on {{ day(row.wantedOn) }};
      <b class="font-semibold">{{
        row.coveredOn ? `they are there on ${day(row.coveredOn)}` : 'nothing that is to come suffices'
      }}</b>
    </li>
  </ul>
</template>
