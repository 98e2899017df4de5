import { defineStore } from 'pinia'

export interface Notice {
  readonly id: number
  readonly kind: 'done' | 'problem'
  readonly text: string
  readonly postingId?: number
  readonly batchId?: number
  /** Where that is taken back, if not with the files of the catalogue. */
  readonly undoAt?: string
  readonly links?: readonly { readonly to: string; readonly label: string }[]
}

/** What has just happened, with the way to take it back. */
export const useNotices = defineStore('notices', () => {
  const list = ref<Notice[]>([])
  let next = 1
  function dismiss(id: number): void {
    list.value = list.value.filter((n) => n.id !== id)
  }
  function say(notice: Omit<Notice, 'id'>): void {
    const id = next++
    list.value = [...list.value, { ...notice, id }].slice(-3)
    setTimeout(() => dismiss(id), notice.kind === 'problem' ? 15_000 : 12_000)
  }
  return { list, say, dismiss }
})
