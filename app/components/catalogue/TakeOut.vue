<script setup lang="ts">
import { TABLES } from '~~/shared/catalogue/words'
</script>

<template>
  <UiSheet title="Export" flush>
    <ul>
      <li class="flex items-center justify-between gap-3 border-b border-line/60 px-4 py-1.5">
        <span>structures, whole</span
        ><a href="/api/structure/bills/file" download class="underline" aria-label="structures as JSON">JSON</a>
      </li>
      <li
        v-for="name in TABLES"
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
