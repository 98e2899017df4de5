<script setup lang="ts">
defineProps<{
  label: string
  error?: string
  hint?: string
  hintAct?: string
  options: readonly { value: string | number | null; name: string }[]
  hideLabel?: boolean
  empty?: string
  disabled?: boolean
}>()
const value = defineModel<string | number | null>({ required: true })
const emit = defineEmits<{ hintAct: [] }>()
</script>

<template>
  <FormField
    v-slot="{ id, wrong, described }"
    :label="label"
    :error="error"
    :hint="hint"
    :hide-label="hideLabel"
    :hint-act="hintAct"
    @hint-act="emit('hintAct')"
  >
    <select
      :id="id"
      v-model="value"
      :disabled="disabled"
      :aria-invalid="wrong"
      :aria-describedby="described"
      class="h-9 w-full min-w-0 rounded-block border bg-sheet px-2 disabled:bg-wash"
      :class="wrong ? 'border-brick' : 'border-line'"
    >
      <option v-if="empty" :value="null">{{ empty }}</option>
      <option v-for="option in options" :key="String(option.value)" :value="option.value">{{ option.name }}</option>
    </select>
  </FormField>
</template>
