<script setup lang="ts">
const props = defineProps<{ groupId: number; fields?: Readonly<Record<string, string>>; at?: string }>()
const value = defineModel<Record<string, string>>({ required: true })
const rules = computed(() => useTraitRules(props.groupId))
</script>

<template>
  <div v-if="rules.length > 0" class="grid grid-cols-1 sm:grid-cols-2 gap-3">
    <StockTraitFields v-model="value" :rules="rules" :fields="fields" :at="at" />
  </div>
</template>
