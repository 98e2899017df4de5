<script setup lang="ts">
/** What is asked for at a sign-in, and what is wrong with it. */
defineProps<{ isAskedForCode: boolean; fields: Readonly<Record<string, string>>; told: string }>()
const password = defineModel<string>('password', { required: true })
const code = defineModel<string>('code', { required: true })
</script>

<template>
  <UiTextField
    v-model="password"
    label="Password"
    type="password"
    autocomplete="current-password"
    :error="fields.password"
  />
  <UiTextField
    v-if="isAskedForCode"
    v-model="code"
    label="Code"
    hint="The six digits that your app shows now, or a recovery code."
    autocomplete="one-time-code"
    :error="fields.code"
  />
  <UiProblem :text="told" />
</template>
