const FIELDS =
  'input:not([type=hidden]):not([disabled]), button[aria-haspopup=listbox]:not([disabled]), textarea:not([disabled])'

/**
 * What Enter does in a form that records: it goes to the next field, so that neither a scanner nor a hasty finger
 * records. Only the button does, or Ctrl+Enter.
 */
export function useEnter(act: () => void, isRecording: () => boolean | undefined) {
  return (event: KeyboardEvent): void => {
    if (event.ctrlKey || event.metaKey) {
      event.preventDefault()
      act()
      return
    }
    const field = event.target as HTMLElement
    // An open list takes Enter for itself.
    if (!isRecording() || event.defaultPrevented || !(field instanceof HTMLInputElement)) {
      return
    }
    event.preventDefault()
    const fields = [...(field.closest('form')?.querySelectorAll<HTMLElement>(FIELDS) ?? [])]
    const next = fields[fields.indexOf(field) + 1]
    next?.focus()
    if (next instanceof HTMLInputElement) {
      next.select()
    }
  }
}
