/** Begins a draft of an item's bill: a copy of a revision, or an empty one. */
export function useRevise(itemId: Ref<number>) {
  const notices = useNotices()
  const { busy, detail, run } = useAct()
  async function revise(from: number | null): Promise<number | null> {
    const made = await run(() =>
      $fetch<{ id: number }>(`/api/structure/${itemId.value}/revise`, { method: 'POST', body: { from } }),
    )
    if (!made) {
      notices.say({ kind: 'problem', text: detail.value })
    }
    return made?.id ?? null
  }
  return { revise, busy }
}
