<script setup lang="ts">
import { COST_TABLES, TABLES } from '~~/shared/catalogue/words'

const session = useSession()
const tables = computed(() => TABLES.filter((name) => session.allows('costs') || !COST_TABLES.includes(name)))
</script>

<template>
  <UiSheet title="Export" flush>
    <ul>
      <li
        v-if="session.allows('costs')"
        class="flex items-center justify-between gap-3 border-b border-line/60 px-4 py-1.5"
      >
        <span>structures, whole</span
        ><a href="/api/structure/bills/file" download class="underline" aria-label="structures as JSON">JSON</a>
      </li>
      <li
        v-for="name in tables"
        :key="name"
        class="flex items-center justify-between gap-3 border-b border-line/60 px-4 py-1.5 last:border-0"
      >
        <span>{{ tableWords(name) }}</span><span class="flex gap-3"
          ><a
            :href="`/api/catalogue/tables/${name}`"
            download
            class="underline"
            :aria-label="`${tableWords(name)} as CSV`"
            >CSV</a
          ><a
            :href="`/api/catalogue/tables/${name}?format=xlsx`"
            download
            class="underline"
            :aria-label="`${tableWords(name)} as XLSX`"
            >XLSX</a
          ></span
        >
      </li>
    </ul>
  </UiSheet>
</template>
