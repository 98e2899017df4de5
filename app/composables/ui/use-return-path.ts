export interface ToOrder {
  readonly itemId: number
  readonly code: string
  readonly name: string
  /** As it is typed, with its unit. */ readonly quantity: string
}

/**
 * Several lines on their way to the form that orders them; what is opened by its address alone has only the item named
 * there.
 */
const together = shallowRef<readonly ToOrder[]>([])

/** Opens the form that orders some lines, the first of them named in its address. */
export async function orderTogether(
  path: string,
  lines: readonly ToOrder[],
  query: Readonly<Record<string, string | number>>,
): Promise<void> {
  const { itemId, code, name, quantity } = lines[0]!
  together.value = lines
  await navigateTo({ path, query: { ...query, item: itemId, code, name, quantity } })
}

/** What the form is to order. */
export function linesToOrder(): readonly ToOrder[] {
  const { item, code, name, quantity } = useRoute().query
  if (!(Number(item) > 0)) {
    return []
  }
  const first: ToOrder = {
    itemId: Number(item),
    code: String(code ?? ''),
    name: String(name ?? ''),
    quantity: String(quantity ?? ''),
  }
  const [lines, itemId] = [together.value, first.itemId]
  together.value = []
  return lines[0]?.itemId === itemId && lines[0].quantity === first.quantity ? lines : [first]
}

/**
 * Where somebody came from to order what runs low: once it is ordered, the list is made anew and shown again. Answers
 * whether it was so; nothing is sent again while it is `leaving`.
 */
export function useReturnPath(): { wentBack(): Promise<boolean>; readonly leaving: Ref<boolean> } {
  const isFromLow = useRoute().query.back === 'low'
  const leaving = ref(false)
  return {
    leaving,
    async wentBack() {
      if (!isFromLow) {
        return false
      }
      leaving.value = true
      await lookAtLowStock()
      await navigateTo('/stock?tab=low')
      return true
    },
  }
}

/** Has what runs low looked for anew; who may not ask for that finds the list as it was. */
export async function lookAtLowStock(): Promise<void> {
  await $fetch('/api/stock/low/refresh', { method: 'POST', body: { key: crypto.randomUUID() } }).catch(() => undefined)
  void refreshToday()
}
