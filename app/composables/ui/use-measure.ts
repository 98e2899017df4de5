import { splitIntoPacks, type ItemMeasure } from '~~/core/units/quantity'
import { ratio } from '~~/core/units/exact'
import { reachableUnits } from '~~/core/units/graph'
import { measureOf, type RelationRow } from '~~/shared/catalogue/measure'

export interface MeasuredItem {
  readonly id: number
  readonly stockUnit: string
  readonly finestStep: string
  readonly relations: readonly RelationRow[]
  readonly buyingUnit?: string
  readonly sellingUnit?: string
}

/** How an item is measured, and the units worth offering: its own first, then those of the same dimension. */
export function useMeasure(item: () => MeasuredItem | null | undefined) {
  const references = useReferences()
  const { printed } = usePrint()
  const measure = computed<ItemMeasure | null>(() => {
    const current = item()
    if (!current) {
      return null
    }
    const built = measureOf(references.units, current)
    return built.ok ? built.value : null
  })
  const units = computed(() => {
    const current = item()
    if (!current || !measure.value) {
      return []
    }
    const own = new Set([
      current.stockUnit,
      current.buyingUnit,
      current.sellingUnit,
      ...current.relations.flatMap((r) => [r.unit, r.ofUnit]),
    ])
    const all = reachableUnits(measure.value.graph, current.stockUnit)
    return [...all.filter((u) => own.has(u.code)), ...all.filter((u) => !own.has(u.code))]
  })
  /** An amount of the stock unit in packs, `12 carton + 4 pc`; empty where no pack is full. */
  function inPacks(amount: string): string {
    const current = item()
    if (!current || !measure.value) {
      return ''
    }
    const { graph } = measure.value
    const packs = [...new Set(current.relations.flatMap((r) => [r.unit, r.ofUnit]))].filter(
      (code) => graph.units.get(code)?.dimension === 'pack' && code !== current.stockUnit,
    )
    const parts = splitIntoPacks(graph, ratio(amount), current.stockUnit, packs)
    return parts.some((part) => part.unit !== current.stockUnit)
      ? parts.map((part) => `${printed(part.amount)} ${references.symbol(part.unit)}`).join(' + ')
      : ''
  }
  return { measure, units, inPacks }
}

const known = new Map<number, Promise<MeasuredItem>>()

/** An item with its units; read once a page load, again after `forget`. */
export function fetchMeasured(id: number): Promise<MeasuredItem> {
  const there = known.get(id) ?? $fetch(`/api/catalogue/items/${id}`)
  known.set(id, there)
  there.catch(() => known.delete(id))
  return there
}

export const forgetMeasured = (id: number): void => {
  known.delete(id)
}
