import { useResizeObserver } from '@vueuse/core'

/** Pixels under which no list stands beside itself in columns: a phone. */
const NARROW = 504
/** Pixels from which on a list that needs more scrolls in its frame: there is room to read it by. */
const ROOMY = 960

/**
 * Whether the rows of a list stand apart, each with what it holds in lines of its own, because its columns have no
 * room: on a phone, and where the columns need more than there is, as beside an open sheet or at 200 %.
 *
 * `needed` are the pixels that the columns need.
 */
export function useRowsApart(frame: Readonly<Ref<HTMLElement | null>>, needed: () => number) {
  const width = ref(Infinity)
  useResizeObserver(frame, ([entry]) => {
    width.value = entry!.target.clientWidth || Infinity
  })
  return computed(() => width.value < NARROW || (width.value < ROOMY && needed() > width.value))
}
