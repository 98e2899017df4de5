<script setup lang="ts">
import type { ListKind } from '~/composables/catalogue/definition-form'
import { DEFINITION_FORMS } from '~/composables/catalogue/definition-forms'

const route = useRoute()
const ORDER: readonly ListKind[] = [
  'groups',
  'units',
  'suppliers',
  'customers',
  'price-lists',
  'sites',
  'bins',
  'routes',
  'calendars',
  'currencies',
]
const links = [
  { to: '/catalogue', name: 'Items' },
  { to: '/structure', name: 'Bills' },
  ...ORDER.map((kind) => ({ to: `/catalogue/lists/${kind}`, name: DEFINITION_FORMS[kind].title })),
  { to: '/catalogue/files', name: 'Import and export' },
]
const current = computed(() => links.find((link) => link.to === route.path)?.name ?? 'Lists of the catalogue')
</script>

<template>
  <nav aria-label="Lists of the catalogue" class="mb-3 md:hidden">
    <UiMenu :label="current" :acts="links.map(({ to, name }) => ({ name, act: () => void navigateTo(to) }))" />
  </nav>
  <nav aria-label="Lists of the catalogue" class="mb-4 flex flex-wrap gap-x-1 border-b border-line max-md:hidden">
    <NuxtLink
      v-for="link in links"
      :key="link.to"
      :to="link.to"
      :aria-current="route.path === link.to ? 'page' : undefined"
      class="-mb-px border-b-2 px-2.5 py-1.5 whitespace-nowrap"
      :class="route.path === link.to ? 'border-maple font-semibold' : 'border-transparent text-soft hover:text-ink'"
      >{{ link.name }}</NuxtLink
    >
  </nav>
</template>
