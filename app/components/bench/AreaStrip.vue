<script setup lang="ts">
const route = useRoute()
const { data } = useToday()
const isCurrent = (path: string): boolean =>
  path === '/'
    ? route.path === '/'
    : route.path.startsWith(path) || (path === '/catalogue' && route.path.startsWith('/structure'))
</script>

<template>
  <nav aria-label="Areas" class="flex items-end">
    <NuxtLink
      v-for="(area, index) in AREAS"
      :key="area.path"
      :to="area.path"
      :title="`${area.summary} (${index + 1})`"
      :aria-current="isCurrent(area.path) ? 'page' : undefined"
      class="relative -ml-px flex items-center gap-1.5 border border-line px-2.5 first:rounded-l-block last:rounded-r-block"
      :class="
        isCurrent(area.path)
          ? 'z-10 h-10 rounded-t-block border-maple bg-maple-face font-semibold text-[#2a2520]'
          : 'h-8 bg-sheet hover:bg-wash'
      "
    >
      {{ area.name }}
      <span
        v-if="area.count && data?.counts[area.count]"
        class="min-w-4 rounded-block px-1 text-center text-fine leading-4 font-semibold"
        :class="isCurrent(area.path) ? 'bg-white/40' : 'bg-ink/10'"
        >{{ data.counts[area.count] }}</span
      >
    </NuxtLink>
  </nav>
</template>
