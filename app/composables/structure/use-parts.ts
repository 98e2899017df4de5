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
  const asked = new Set<number>()
  async function want(ids: readonly number[]): Promise<void> {
    const missing = ids.filter((id) => !asked.has(id) && !parts.value.items.some((item) => item.id === id))
    if (missing.length === 0) {
      return
    }
    for (const id of missing) {
      asked.add(id)
    }
    try {
      parts.value = joinParts(parts.value, await $fetch<Parts>('/api/structure/parts', { query: { of: missing } }))
    } catch {
      for (const id of missing) {
        asked.delete(id)
      }
    }
  }
  /** Reads some again: a bridge was added, or a price has changed. */
  async function again(ids: readonly number[]): Promise<void> {
    if (ids.length > 0) {
      parts.value = joinParts(parts.value, await $fetch<Parts>('/api/structure/parts', { query: { of: ids } }))
    }
  }
  return { parts, want, again }
}
