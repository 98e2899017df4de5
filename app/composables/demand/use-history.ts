import { computed, ref, type Ref } from 'vue'

/**
 * Steps back and forth through what a form was: a step for each change that was made in one go.
 *
 * Text that is still being typed belongs to its field, and the browser's own undo; a step is kept when it is left.
 */
export function useHistory<F>(form: Ref<F>) {
  const past = ref<string[]>([]) as Ref<string[]>
  const future = ref<string[]>([]) as Ref<string[]>
  let now = JSON.stringify(form.value)
  function keep(): void {
    const said = JSON.stringify(form.value)
    if (said === now) {
      return
    }
    past.value = [...past.value.slice(-99), now]
    future.value = []
    now = said
  }
  function go(from: Ref<string[]>, to: Ref<string[]>): boolean {
    keep()
    const step = from.value.at(-1)
    if (step === undefined) {
      return false
    }
    from.value = from.value.slice(0, -1)
    to.value = [...to.value, now]
    now = step
    form.value = JSON.parse(step) as F
    return true
  }
  /** Forgets all steps: the form shows something else. */
  function forget(): void {
    past.value = []
    future.value = []
    now = JSON.stringify(form.value)
  }
  return {
    keep,
    forget,
    undo: () => go(past, future),
    redo: () => go(future, past),
    canUndo: computed(() => past.value.length > 0),
    canRedo: computed(() => future.value.length > 0),
  }
}
