/** The tab of a page, which its address says: `?tab=history`. The first is meant where it says none. */
export function useTab<T extends string>(tabs: readonly T[]) {
  const route = useRoute()
  const router = useRouter()
  const isTab = (text: unknown): text is T => (tabs as readonly unknown[]).includes(text)
  return computed<T>({
    get: () => (isTab(route.query.tab) ? route.query.tab : tabs[0]!),
    set: (tab) => {
      // What the list of one tab is filtered by means nothing in the next.
      void router.replace({ query: tab === tabs[0] ? {} : { tab } })
    },
  })
}
