import { useEventListener } from '@vueuse/core'

/**
 * Saves a form as one goes: when a field is left, a choice made, a line added or taken away. What cannot be saved stays
 * in the form with a sentence beside it, and nothing else is lost.
 *
 * `save` gets the form, and answers the version that is stored now. Saves follow each other, so that the last word
 * wins.
 */
export function useSaving<F extends object>(form: Ref<F>, save: (form: F) => Promise<void>, allowed: () => boolean) {
  const act = useAct()
  const saved = ref(JSON.stringify(form.value))
  const isDirty = computed(() => JSON.stringify(form.value) !== saved.value)
  const state = computed<'saved' | 'saving' | 'unsaved'>(() => {
    if (act.busy.value) {
      return 'saving'
    }
    if (isDirty.value) {
      return 'unsaved'
    }
    return 'saved'
  })
  const count = ref(0)
  let again = false
  let gone = false
  const notices = useNotices()

  async function commit(): Promise<void> {
    if (!isDirty.value || !allowed()) {
      return
    }
    if (act.busy.value) {
      again = true
      return
    }
    const sent = JSON.stringify(form.value)
    const done = await act.run(async () => {
      await save(JSON.parse(sent) as F)
      return true
    })
    if (done) {
      saved.value = sent
      count.value++
    }
    // Whoever has gone on to something else is told all the same.
    else if (gone) {
      notices.say({ kind: 'problem', text: `Not saved: ${act.detail.value}` })
    }
    if (again) {
      again = false
      await commit()
    }
  }
  const typing = (): boolean => {
    const focused = document.activeElement
    return (
      focused instanceof HTMLTextAreaElement ||
      (focused instanceof HTMLInputElement && focused.type !== 'checkbox' && focused.closest('[data-saves]') !== null)
    )
  }
  // A text counts when its field is left (change); everything else at once.
  watch(
    form,
    () => {
      if (!typing()) {
        void nextTick(commit)
      }
    },
    { deep: true },
  )
  useEventListener('change', (event: Event) => {
    if ((event.target as HTMLElement).closest('[data-saves]')) {
      void nextTick(commit)
    }
  })
  useEventListener('beforeunload', (event: BeforeUnloadEvent) => {
    if (isDirty.value) {
      event.preventDefault()
    }
  })
  onBeforeUnmount(() => {
    gone = true
    void commit()
  })
  onBeforeRouteLeave(async () => {
    await commit()
    return !isDirty.value || !allowed() || window.confirm('Some of what you typed is not saved. Leave the page?')
  })
  /** Takes what is stored now into the form, as it was saved. */
  function accept(stored: F): void {
    count.value = 0
    form.value = stored
    saved.value = JSON.stringify(stored)
    act.clear()
  }
  const back = (): void => {
    form.value = JSON.parse(saved.value) as F
    act.clear()
  }
  return {
    state,
    isDirty,
    count,
    commit,
    accept,
    back,
    fields: act.fields,
    detail: act.detail,
    code: act.code,
    effects: act.effects,
  }
}
