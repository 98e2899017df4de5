<script setup lang="ts">
import { useMutationObserver, useResizeObserver } from '@vueuse/core'
import { labelCells } from '~/composables/ui/label-cells'

/**
 * Lines that are typed into, or that belong together in ways of their own. Where there is little room each line becomes
 * a row of its own, whose cells say their column.
 *
 * `isGrid`: it means something only side by side, and scrolls in its frame instead. `isBare`: without that frame.
 */
defineOptions({ inheritAttrs: false })
const props = defineProps<{ isBare?: boolean; isGrid?: boolean }>()
const frame = useTemplateRef('frame')
/** Where it scrolls, keys must be able to scroll it. */
const isWide = ref(false)
/** Pixels that it was seen to need side by side. */
const needed = ref(0)
const isCramped = useRowsApart(frame, () => needed.value)
const isApart = computed(() => !props.isGrid && isCramped.value)
useResizeObserver(frame, ([entry]) => {
  const { scrollWidth, clientWidth } = entry!.target
  isWide.value = scrollWidth > clientWidth
  if (!isApart.value) {
    needed.value = isWide.value ? scrollWidth : 0
  }
})
function label(): void {
  const table = frame.value?.querySelector('table')
  if (table && isApart.value) {
    labelCells(table)
  }
}
watch(isApart, label)
useMutationObserver(frame, label, { childList: true, subtree: true })
</script>

<template>
  <table v-if="isBare" v-bind="$attrs">
    <slot />
  </table>
  <div
    v-else
    ref="frame"
    class="printed-whole relative overflow-x-auto"
    :class="isApart && 'lines-apart'"
    :tabindex="isWide ? 0 : undefined"
    :role="isWide ? 'region' : undefined"
    :aria-label="isWide ? String($attrs['aria-label'] ?? 'Lines') : undefined"
  >
    <table v-bind="$attrs">
      <slot />
    </table>
  </div>
</template>
