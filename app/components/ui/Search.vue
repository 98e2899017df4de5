<script setup lang="ts">
defineProps<{ label: string }>()
const text = defineModel<string>({ required: true })
const field = useTemplateRef('field')
defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <input
    ref="field"
    v-model="text"
    type="search"
    :aria-label="label"
    :placeholder="label"
    class="h-9 w-52 rounded-block border border-line bg-sheet px-3 placeholder:text-soft pointer-coarse:h-[44px]"
  />
</template>
