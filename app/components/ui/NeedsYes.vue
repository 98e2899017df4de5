<script setup lang="ts">
/** Asks for a yes, after what an act would change elsewhere was shown; the slot says what stays. */
defineProps<{ title: string; act: string; effects: readonly string[]; busy?: boolean }>()
const emit = defineEmits<{ confirm: []; leave: [] }>()
const open = computed({ get: () => true, set: () => emit('leave') })
</script>

<template>
  <UiDialog v-model="open" :title="title" :act="act" :busy="busy" wide @act="emit('confirm')">
    <UiEffects :effects="effects" />
    <p v-if="$slots.default" class="mt-3 text-soft"><slot /></p>
  </UiDialog>
</template>
