<script setup lang="ts">
import type { ApiSchema } from '~~/shared/running/api-description'

/** Deeper than this it is told when asked for. */
const SHOWN_DEPTH = 2
const props = withDefaults(
  defineProps<{
    schema: ApiSchema
    components: Readonly<Record<string, ApiSchema>>
    name?: string
    isRequired?: boolean
    depth?: number
  }>(),
  { name: '', depth: 0 },
)
const meant = computed<ApiSchema>(() => {
  const name = props.schema.$ref?.split('/').at(-1)
  return name === undefined ? props.schema : { ...props.components[name], ...props.schema }
})
/** The fields of an object, or of the objects of a list. */
const fields = computed(() => {
  const inner = meant.value.items ?? meant.value
  const own = inner.$ref ? props.components[inner.$ref.split('/').at(-1)!]! : inner
  return Object.entries(own.properties ?? {}).map(([name, schema]) => ({
    name,
    schema,
    isRequired: own.required?.includes(name) ?? false,
  }))
})
const choices = computed(() => meant.value.anyOf ?? meant.value.oneOf ?? [])
const isOpen = ref(props.depth < SHOWN_DEPTH)
const kind = computed(() => kindOf(meant.value, props.components))
</script>

<template>
  <div :class="depth > 0 && 'border-l border-line pl-3'">
    <p v-if="name || fields.length === 0">
      <code v-if="name" class="font-medium">{{ name }}</code>&#32;<span class="text-soft"
        >{{ kind }}{{ isRequired ? '' : ', may be left out' }}</span
      >&#32;<span v-if="schema.description">{{ schema.description }}</span
      >&#32;<button v-if="fields.length && !isOpen" type="button" class="underline" @click="isOpen = true">
        {{ fields.length }} fields
      </button>
    </p>
    <p v-else-if="meant.items" class="text-soft">{{ kind }}</p>
    <template v-if="isOpen">
      <RunningApiSchema
        v-for="field in fields"
        :key="field.name"
        v-bind="field"
        :components="components"
        :depth="depth + 1"
      />
      <template v-if="fields.length === 0">
        <RunningApiSchema
          v-for="(choice, index) in choices.filter((entry) => entry.$ref || entry.properties || entry.items)"
          :key="index"
          :schema="choice"
          is-required
          :components="components"
          :depth="depth + 1"
        />
      </template>
    </template>
  </div>
</template>
