<script setup lang="ts">
/**
 * How far long work is, told in words too; `canStop` offers to end it.
 *
 * `label` names the work to those who do not see the bar; `told` stands beside it.
 */
withDefaults(
  defineProps<{ label: string; value: number; most?: number; told?: string; canStop?: boolean; busy?: boolean }>(),
  { most: 100, told: '' },
)
const emit = defineEmits<{ stop: [] }>()
</script>

<template>
  <div class="flex items-center gap-3" role="status">
    <progress class="bar h-2 min-w-24 flex-1" :value="value" :max="most" :aria-label="label" /><span
      v-if="told"
      class="text-fine whitespace-nowrap"
      >{{ told }}</span
    ><UiButton v-if="canStop" small :busy="busy" @click="emit('stop')">Stop</UiButton>
  </div>
</template>
