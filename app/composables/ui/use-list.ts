import { refDebounced } from '@vueuse/core'

/**
 * The state of a list that the server searches, filters and pages: what is typed waits a moment, and a new search
 * begins at the first page.
 */
export function useList<S extends string>(status: S) {
  const search = ref(String(useRoute().query.search ?? ''))
  const chosen = ref(status) as Ref<S>
  const page = ref(1)
  const slow = refDebounced(search, 150)
  watch([slow, chosen], () => {
    page.value = 1
  })
  const query = computed(() => ({ search: slow.value, status: chosen.value, page: page.value, size: 50 }))
  return { search, status: chosen, page, query }
}

/** Ends with the page for what is not there, where a document could not be read. */
export function orNotFound<T extends { error: Ref<unknown> }>(answer: T): T {
  if (answer.error.value) {
    throw createError({ statusCode: 404, message: problemOf(answer.error.value).detail, fatal: true })
  }
  return answer
}
