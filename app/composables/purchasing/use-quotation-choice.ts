import type { LeastTotal, QuotationRequest } from '~~/shared/purchasing/quotations'

/** Who is chosen for which line of a request: at first who costs least in total, or the cheapest of each line. */
export function useQuotationChoice(request: () => QuotationRequest | null | undefined) {
  const chosen = ref<ReadonlyMap<number, number>>(new Map())
  const take = ({ suppliers }: LeastTotal): void => {
    chosen.value = new Map(suppliers.map(({ lineId, supplierId }) => [lineId, supplierId]))
  }
  const quotedOf = (lineId: number, supplierId: number) =>
    request()
      ?.quotations.find((quotation) => quotation.supplierId === supplierId)
      ?.lines.find((line) => line.lineId === lineId)
  /** Chooses a supplier for a line, or nobody where they are chosen already. */
  function toggle(lineId: number, supplierId: number): void {
    const map = new Map(chosen.value)
    if (map.get(lineId) === supplierId) {
      map.delete(lineId)
    } else {
      map.set(lineId, supplierId)
    }
    chosen.value = map
  }
  function choose(lineIds: readonly number[], supplierId: number): void {
    chosen.value = new Map([...chosen.value, ...lineIds.map((lineId) => [lineId, supplierId] as const)])
  }
  /** Begins anew whenever what is quoted has changed. */
  watch(
    request,
    (now) => {
      if (now?.least) {
        take(now.least)
        return
      }
      const cheapest = (now?.lines ?? []).flatMap((line) => {
        const offers = now!.quotations.flatMap(({ supplierId }) => {
          const landed = quotedOf(line.id, supplierId)?.landed
          return landed === undefined || landed === null ? [] : [{ supplierId, landed: BigInt(landed) }]
        })
        const [best] = offers.sort((first, second) => (first.landed < second.landed ? -1 : 1))
        return best ? [[line.id, best.supplierId] as const] : []
      })
      chosen.value = new Map(cheapest)
    },
    { immediate: true },
  )
  /** What is chosen costs with the charges of each supplier once, in minor units of the company's currency. */
  const total = computed(() => {
    const goods = [...chosen.value].reduce(
      (sum, [lineId, supplierId]) => sum + BigInt(quotedOf(lineId, supplierId)?.amount ?? '0'),
      0n,
    )
    return [...new Set(chosen.value.values())]
      .reduce((sum, supplierId) => {
        const quotation = request()!.quotations.find((entry) => entry.supplierId === supplierId)!
        const own = quotation.lines.reduce((amount, line) => amount + BigInt(line.amount ?? '0'), 0n)
        return sum + BigInt(quotation.total ?? '0') - own
      }, goods)
      .toString()
  })
  return { chosen, take, toggle, choose, quotedOf, total }
}
