import { useIntervalFn, useLocalStorage } from '@vueuse/core'

/** Minutes worked at a job: runs on while the page is away, for it remembers when it was started. */
export function useStopwatch(name: string, now: () => number = Date.now) {
  const kept = useLocalStorage<{ before: number; since: number | null }>(`tsumiki-watch-${name}`, {
    before: 0,
    since: null,
  })
  const seconds = ref(0)
  const tick = (): void => {
    seconds.value = Math.floor((kept.value.before + (kept.value.since === null ? 0 : now() - kept.value.since)) / 1000)
  }
  const runs = computed(() => kept.value.since !== null)
  function toggle(): void {
    kept.value =
      kept.value.since === null
        ? { ...kept.value, since: now() }
        : { before: kept.value.before + now() - kept.value.since, since: null }
    tick()
  }
  function reset(): void {
    kept.value = { before: 0, since: null }
    tick()
  }
  tick()
  useIntervalFn(tick, 500)
  const shown = computed(() => `${Math.floor(seconds.value / 60)}:${String(seconds.value % 60).padStart(2, '0')}`)
  /** In minutes, to a tenth, as it is recorded. */
  const minutes = computed(() => (Math.round(seconds.value / 6) / 10).toString())
  return { runs, seconds, shown, minutes, toggle, reset }
}
