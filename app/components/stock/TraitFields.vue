<script setup lang="ts">
defineProps<{
  rules: readonly { name: string; kind: string; unit: string | null; choices: string }[]
  fields?: Readonly<Record<string, string>>
  at?: string
}>()
const value = defineModel<Record<string, string>>({ required: true })
const references = useReferences()
const set = (name: string, text: string): void => {
  value.value = { ...value.value, [name]: text }
}
</script>

<template>
  <template v-for="rule in rules" :key="rule.name">
    <UiChoice
      v-if="rule.kind === 'choice'"
      :model-value="value[rule.name] ?? ''"
      :label="rule.name"
      :options="traitChoices(rule)"
      :error="fields?.[`${at ?? 'traits.'}${rule.name}`]"
      @update:model-value="set(rule.name, String($event ?? ''))"
    />
    <UiTextField
      v-else
      :model-value="value[rule.name] ?? ''"
      :label="rule.unit ? `${rule.name}, ${references.symbol(rule.unit)}` : rule.name"
      :right="rule.kind === 'number'"
      :error="fields?.[`${at ?? 'traits.'}${rule.name}`]"
      @update:model-value="set(rule.name, $event)"
    />
  </template>
</template>
