<script setup lang="ts">
withDefaults(
  defineProps<{ primary?: boolean; busy?: boolean; disabled?: boolean; type?: 'button' | 'submit'; small?: boolean }>(),
  { type: 'button' },
)
</script>

<template>
  <button
    :type="type"
    :disabled="disabled || busy"
    :aria-busy="busy"
    class="inline-flex items-center justify-center gap-1.5 rounded-block border font-medium whitespace-nowrap transition-colors disabled:opacity-50 pointer-coarse:min-h-[44px] pointer-coarse:min-w-[44px]"
    :class="[
      small ? 'h-7 px-2 text-fine' : 'h-9 px-3.5',
      primary
        ? 'border-maple bg-maple-face text-[#2a2520] hover:bg-maple'
        : 'border-line bg-sheet text-ink hover:bg-wash',
    ]"
  >
    <span
      v-if="busy"
      class="size-3 animate-spin rounded-full border-2 border-current border-t-transparent"
      aria-hidden="true"
    />
    <slot />
  </button>
</template>
