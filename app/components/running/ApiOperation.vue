<script setup lang="ts">
import type { ApiOperation, ApiSchema } from '~~/shared/running/api-description'

const props = defineProps<{
  path: string
  method: string
  operation: ApiOperation
  components: Readonly<Record<string, ApiSchema>>
}>()
const isOpen = ref(false)
const body = computed(() => props.operation.requestBody?.content['application/json']?.schema)
const answer = computed(() => props.operation.responses['200']?.content['application/json']?.schema)
const access = computed(() => {
  const { security, 'x-right': right } = props.operation
  if (security.length > 0) {
    return `a key with the right “${right}”`
  }
  return right === undefined ? 'anybody' : 'somebody signed in, not a key'
})
</script>

<template>
  <details class="border-b border-line/60 last:border-0" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary class="flex cursor-pointer flex-wrap gap-x-3 py-1.5 pointer-coarse:min-h-[44px]">
      <b class="w-16 font-semibold">{{ method }}</b>
      <code class="break-all">{{ path }}</code>
      <span class="text-soft">{{ operation.summary }}</span>
    </summary>
    <div v-if="isOpen" class="grid gap-3 pb-4 pl-2 sm:pl-16">
      <p v-if="operation.description" class="max-w-[80ch]">{{ operation.description }}</p>
      <p class="text-soft">For {{ access }}.</p>
      <div v-if="operation.parameters.length">
        <h3 class="font-semibold">In the address</h3>
        <RunningApiSchema
          v-for="parameter in operation.parameters"
          :key="parameter.name"
          :name="parameter.name"
          :schema="parameter.schema"
          :is-required="parameter.required"
          :components="components"
        />
      </div>
      <div v-if="body">
        <h3 class="font-semibold">It takes</h3>
        <RunningApiSchema :schema="body" is-required :components="components" />
      </div>
      <div v-if="answer">
        <h3 class="font-semibold">It answers</h3>
        <RunningApiSchema :schema="answer" is-required :components="components" />
      </div>
    </div>
  </details>
</template>
