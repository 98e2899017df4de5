<script setup lang="ts">
import type { ApiDescription } from '~~/shared/running/api-description'

const { data, error } = await useFetch<ApiDescription>('/api/openapi.json')
const search = ref('')
const operations = computed(() =>
  Object.entries(data.value?.paths ?? {}).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ path, method: method.toUpperCase(), operation })),
  ),
)
const found = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean)
  return operations.value.filter(({ path, method, operation }) => {
    const text = `${method} ${path} ${operation.summary ?? ''} ${operation.description ?? ''}`.toLowerCase()
    return words.every((word) => text.includes(word))
  })
})
const areas = computed(() =>
  (data.value?.tags ?? [])
    .map(({ name }) => ({ name, operations: found.value.filter(({ operation }) => operation.tags.includes(name)) }))
    .filter((area) => area.operations.length > 0),
)
const titleOf = (area: string): string => area.charAt(0).toUpperCase() + area.slice(1)
useHead({ title: 'What a script can ask · Tsumiki' })
</script>

<template>
  <div>
    <UiHead
      title="What a script can ask"
      :summary="`${operations.length} requests, each with what it takes and what it answers (OpenAPI 3.1).`"
    >
      <a href="/api/openapi.json" class="underline" download="tsumiki-openapi.json">Save as JSON</a>
    </UiHead>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <template v-else-if="data">
      <UiSheet class="mb-4">
        <p class="max-w-[80ch]">{{ data.info.description }}</p>
        <p class="mt-2 max-w-[80ch]">
          An owner makes keys under
          <NuxtLink to="/running?tab=programs" class="underline">Running, Keys and web hooks</NuxtLink>. A script sends
          its key with each request:
        </p>
        <pre class="mt-2 overflow-x-auto rounded-block border border-line bg-wash p-2 text-fine" tabindex="0">
curl -H "Authorization: Bearer $KEY" $TSUMIKI/api/catalogue/items</pre>
      </UiSheet>
      <UiSearch v-model="search" label="Find a request" class="mb-3 max-w-md" />
      <UiEmptyState v-if="areas.length === 0" title="Nothing fits" />
      <UiSheet v-for="area in areas" :key="area.name" :title="titleOf(area.name)" class="mb-4">
        <RunningApiOperation
          v-for="entry in area.operations"
          :key="entry.operation.operationId"
          v-bind="entry"
          :components="data.components.schemas"
        />
      </UiSheet>
    </template>
  </div>
</template>
