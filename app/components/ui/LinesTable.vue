<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'

/**
 * Lines that are typed into, or that belong together in ways of their own, in a frame that scrolls by itself where
 * there is no room. `isBare`: without that frame.
 */
defineOptions({ inheritAttrs: false })
defineProps<{ isBare?: boolean }>()
const frame = useTemplateRef('frame')
/** Where it scrolls, keys must be able to scroll it. */
const isWide = ref(false)
useResizeObserver(frame, ([entry]) => {
  const element = entry!.target
  isWide.value = element.scrollWidth > element.clientWidth
})
</script>

<template>
  <table v-if="isBare" v-bind="$attrs">
    <slot />
  </table>
  <div
    v-else
    ref="frame"
    class="printed-whole relative overflow-x-auto"
    :tabindex="isWide ? 0 : undefined"
    :role="isWide ? 'region' : undefined"
    :aria-label="isWide ? String($attrs['aria-label'] ?? 'Lines') : undefined"
  >
    <table v-bind="$attrs">
      <slot />
    </table>
  </div>
</template>
