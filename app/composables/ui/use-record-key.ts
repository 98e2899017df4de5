import { useEventListener } from '@vueuse/core'

/**
 * Ctrl+Enter saves or records wherever a form is open: the one that is typed into, else the only one of the page. A
 * dialog has its own.
 */
export function useRecordKey(): void {
  useEventListener('keydown', (event: KeyboardEvent) => {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey) || event.defaultPrevented) {
      return
    }
    const forms = [...document.querySelectorAll<HTMLFormElement>('#page form')]
    const focused = document.activeElement?.closest('form') ?? null
    const form = focused ?? (forms.length === 1 ? forms[0]! : null)
    if (form && !document.querySelector('[role=dialog]')) {
      event.preventDefault()
      // What is still being typed counts: a field takes it over when it is left. A box that is checked counts already.
      const field = document.activeElement
      if (field instanceof HTMLTextAreaElement || (field instanceof HTMLInputElement && field.type !== 'checkbox')) {
        field.dispatchEvent(new Event('change', { bubbles: true }))
      }
      form.requestSubmit()
    }
  })
}
