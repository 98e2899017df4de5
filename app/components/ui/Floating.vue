<script setup lang="ts">
import { autoUpdate, flip, offset, shift, size, useFloating, type Placement } from '@floating-ui/vue'

/**
 * A panel (a list, a calendar, a menu) beside what opens it: over whatever would cut it off, and inside the window. Its
 * parent draws it while it is open. `isAsWide`: at least as wide as its anchor.
 */
const props = withDefaults(defineProps<{ anchor: HTMLElement | null; placement?: Placement; isAsWide?: boolean }>(), {
  placement: 'bottom-start',
})
const LEAST = 120
const MOST = 420
const MARGIN = 8
const panel = useTemplateRef('panel')
const { floatingStyles } = useFloating(toRef(props, 'anchor'), panel, {
  placement: () => props.placement,
  strategy: 'fixed',
  transform: false,
  whileElementsMounted: autoUpdate,
  middleware: [
    offset(4),
    flip({ padding: MARGIN }),
    shift({ padding: MARGIN }),
    size({
      padding: MARGIN,
      apply({ elements, rects, availableHeight }) {
        Object.assign(elements.floating.style, {
          maxHeight: `${Math.max(LEAST, Math.min(MOST, availableHeight))}px`,
          ...(props.isAsWide && { minWidth: `${rects.reference.width}px` }),
        })
      },
    }),
  ],
})
</script>

<template>
  <div ref="panel" class="floating" :style="floatingStyles"><slot /></div>
</template>
