import type { Parts } from '~~/shared/structure/parts'

const EMPTY: Parts = { items: [], bills: [], lines: [], breakDowns: [], today: '' }

/** Puts what was fetched beside what is there; of an item or a bill that is in both, the later word counts. */
export function joinParts(there: Parts, more: Parts): Parts {
  const items = new Map([...there.items, ...more.items].map((item) => [item.id, item]))
  const bills = new Map([...there.bills, ...more.bills].map((bill) => [bill.itemId, bill]))
  const fresh = new Set(more.bills.map((bill) => bill.itemId))
  const recipes = new Map(
    [...there.breakDowns, ...more.breakDowns].map((recipe) => [
      `${recipe.bulk} ${recipe.outputs.map((o) => o.item).join()}`,
      recipe,
    ]),
  )
  return {
    today: more.today,
    items: [...items.values()],
    bills: [...bills.values()],
    lines: [...there.lines.filter((line) => !fresh.has(line.parent)), ...more.lines],
    breakDowns: [...recipes.values()],
  }
}

/** Items with all that is below them, fetched when they are first asked for. */
export function useParts() {
  const parts = shallowRef<Parts>(EMPTY)
  const underWay = new Map<number, Promise<void>>()
  const isThere = (id: number): boolean => parts.value.items.some((item) => item.id === id)

  /** Reads some, again where they are there: a bridge was added, or a price has changed. */
  async function again(ids: readonly number[]): Promise<void> {
    if (ids.length === 0) {
      return
    }
    const answer = await $fetch<Parts>('/api/structure/parts', { query: { of: ids } })
    // Only now: other answers have come meanwhile.
    parts.value = joinParts(parts.value, answer)
  }

  /** Resolves when all of these are there; rejects where the server does not answer. */
  async function fetchParts(ids: readonly number[]): Promise<void> {
    const missing = ids.filter((id) => !isThere(id) && !underWay.has(id))
    const reading = again(missing).finally(() => {
      for (const id of missing) {
        underWay.delete(id)
      }
    })
    for (const id of missing) {
      underWay.set(id, reading)
    }
    await Promise.all([reading, ...ids.map((id) => underWay.get(id))])
  }

  /** Asks for these; what is not answered now is asked for again when it is needed. */
  const want = (ids: readonly number[]): Promise<void> => fetchParts(ids).catch(() => {})
  return { parts, fetchParts, want, again }
}
