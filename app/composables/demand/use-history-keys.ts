import { useEventListener } from '@vueuse/core'

/** Ctrl Z and Ctrl Shift Z (or Ctrl Y) step through a form; text that is being typed keeps the undo of its field. */
export function useHistoryKeys(step: (direction: 'undo' | 'redo') => boolean, isOn: () => boolean): void {
  let typed = false
  useEventListener('input', () => {
    typed = true
  })
  useEventListener('change', () => {
    typed = false
  })
  useEventListener('keydown', (event: KeyboardEvent) => {
    if (!isOn() || typed || !(event.ctrlKey || event.metaKey) || event.altKey) {
      return
    }
    const key = event.key.toLowerCase()
    const back = key === 'z' && !event.shiftKey
    if (!back && !(key === 'y' || (key === 'z' && event.shiftKey))) {
      return
    }
    event.preventDefault()
    step(back ? 'undo' : 'redo')
  })
}
