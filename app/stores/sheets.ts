import { defineStore } from 'pinia'

/** Items open in the side sheet: one, and those pinned beside it. */
export const useSheets = defineStore('sheets', () => {
  const pinned = ref<number[]>([])
  const current = ref<number | null>(null)

  function open(itemId: number): void {
    if (!pinned.value.includes(itemId)) {
      current.value = itemId
    }
  }
  function close(itemId?: number): void {
    if (itemId === undefined || current.value === itemId) {
      current.value = null
    } else {
      pinned.value = pinned.value.filter((id) => id !== itemId)
    }
  }
  function pin(itemId: number): void {
    if (pinned.value.includes(itemId)) {
      pinned.value = pinned.value.filter((id) => id !== itemId)
      current.value = itemId
      return
    }
    pinned.value = [...pinned.value, itemId].slice(-2)
    if (current.value === itemId) {
      current.value = null
    }
  }
  return { pinned, current, open, close, pin }
})
