<script setup lang="ts" generic="Value extends string">
/** Several of a few, to be ticked. */
defineProps<{
  legend: string
  options: readonly { readonly value: Value; readonly name: string }[]
  error?: string
}>()
const chosen = defineModel<Value[]>({ required: true })
</script>

<template>
  <fieldset>
    <legend class="mb-1 font-semibold">{{ legend }}</legend>
    <div class="grid grid-cols-1 gap-x-4 sm:grid-cols-2">
      <label
        v-for="option in options"
        :key="option.value"
        class="flex min-h-[24px] items-center gap-2 py-0.5 pointer-coarse:min-h-[44px]"
        ><input v-model="chosen" type="checkbox" class="size-4 accent-[var(--maple)]" :value="option.value" />{{
          option.name
        }}</label
      >
    </div>
    <p v-if="error" role="alert" class="text-fine text-brick">{{ error }}</p>
  </fieldset>
</template>
