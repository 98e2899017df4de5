import { convert } from '~~/core/units/graph'
import { ONE, ratio, toDecimal, ZERO } from '~~/core/units/exact'
import type { PartStructure } from '~~/shared/structure/parts'
import { measureOfPart } from '../structure/use-bill-form'

interface Kit {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly price: string
}

/** What a kit wants before it can be used, and its price against the sum of its parts. */
export function useKitFacts(
  kit: () => Kit,
  structure: () => PartStructure | null,
  inUse: () => { readonly lines: number } | null,
) {
  const references = useReferences()
  const missing = computed(() => {
    const wants = [
      kit().code.trim() === '' ? 'a code' : '',
      kit().name.trim() === '' ? 'a name' : '',
      !inUse() ? 'contents that are in use, with at least one active component' : '',
    ].filter(Boolean)
    return wants.length > 0 ? `It wants ${wants.join(', ')}.` : ''
  })
  /** The selling prices of what one kit holds, those that have one; null where none has. */
  const partsPrice = computed(() => {
    const built = structure()
    if (!built) {
      return null
    }
    let sum = ZERO
    const without: string[] = []
    for (const line of built.parts.lines.filter((line) => line.parent === kit().id)) {
      const item = built.items.get(String(line.child))
      const measure = item && measureOfPart(references.units, item)
      if (!item || item.price === null || !measure) {
        if (item) {
          without.push(item.code)
        }
        continue
      }
      const sold = convert(measure.graph, ONE, item.stockUnit, item.sellingUnit)
      if (sold.ok) {
        sum = sum.add(
          ratio(item.price)
            .mul(sold.value)
            .mul(ratio(line.per).add(ratio(line.fixed))),
        )
      }
    }
    if (sum.equals(ZERO)) {
      return null
    }
    const own = /^\d+(\.\d+)?$/.test(kit().price) ? ratio(kit().price) : null
    const apart =
      own && !own.equals(sum)
        ? `${toDecimal(sum.sub(own).abs().div(sum).mul(100), 0)} % ${own.compare(sum) < 0 ? 'less' : 'more'}`
        : ''
    return { sum: toDecimal(sum, 2), than: apart, without }
  })
  return { missing, partsPrice }
}
