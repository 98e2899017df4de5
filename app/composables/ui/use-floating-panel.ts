import { autoUpdate, flip, offset, shift, size, useFloating, type Placement } from '@floating-ui/vue'

/**
 * Places a panel (a list, a calendar, a menu) beside what opens it: over whatever would cut it off, and inside the window.
 *
 * `anchor` and `panel` are the elements; the panel is at least as wide as the anchor where `isAsWide`.
 */
export function useFloatingPanel(
  anchor: Ref<HTMLElement | null>,
  panel: Ref<HTMLElement | null>,
  { placement = 'bottom-start' as Placement, isAsWide = true } = {},
) {
  const { floatingStyles } = useFloating(anchor, panel, {
    placement,
    strategy: 'fixed',
    transform: false,
    whileElementsMounted: autoUpdate,
    middleware: [
      offset(4),
      flip({ padding: 8 }),
      shift({ padding: 8 }),
      size({
        padding: 8,
        apply({ elements, rects, availableHeight }) {
          Object.assign(elements.floating.style, {
            maxHeight: `${Math.max(120, Math.min(360, availableHeight))}px`,
            ...(isAsWide && { minWidth: `${rects.reference.width}px` }),
          })
        },
      }),
    ],
  })
  return { floatingStyles }
}
