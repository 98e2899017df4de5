import { onKeyStroke } from '@vueuse/core'

export interface PageKey { readonly key: string, readonly says: string, readonly act: () => void }

const pageKeys = shallowRef<readonly PageKey[]>([])
export const usePageKeys = () => pageKeys

export const isTyping = (): boolean => {
  const at = document.activeElement
  return at instanceof HTMLElement && (at.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(at.tagName) || at.closest('[role=dialog],[role=listbox]') !== null)
}

/** Keys of the page that is open; `?` lists them. They rest while something is typed. */
export function useKeys(keys: readonly PageKey[]): void {
  onMounted(() => { pageKeys.value = keys })
  onUnmounted(() => { if (pageKeys.value === keys) pageKeys.value = [] })
  for (const { key, act } of keys) {
    onKeyStroke(key, (event) => {
      if (isTyping() || event.ctrlKey || event.metaKey || event.altKey) return
      event.preventDefault()
      act()
    })
  }
}
