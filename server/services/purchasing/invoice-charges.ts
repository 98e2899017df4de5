import type { Minor } from '~~/core/costing'
import { spreadCharge, type Spread, type SpreadFault } from '~~/core/invoicing'
import { ratio } from '~~/core/units/exact'
import type { Reader } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { ReceivedGoods } from '~~/shared/purchasing/answers'
import { loadMeasuredItems } from '../catalogue/measured-items'

export interface SpreadBy {
  readonly amount: Minor
  readonly by: Spread
}

/**
 * What of each charge falls on each of the goods, in their order. Minor units of the company's currency. Errors:
 * `invalid-input` beside `charges.N.by`.
 */
export async function shareCharges(
  reader: Reader,
  charges: readonly SpreadBy[],
  goods: readonly ReceivedGoods[],
): Promise<(readonly Minor[])[]> {
  const items = await loadMeasuredItems(
    reader,
    goods.map((entry) => entry.itemId),
  )
  const receipts = goods.map((entry) => ({
    value: BigInt(entry.value),
    quantity: ratio(entry.quantity),
    unit: items.get(entry.itemId)!.stockUnit,
    graph: items.get(entry.itemId)!.measure.graph,
  }))
  return charges.map(({ amount, by }, index) => {
    const shares = spreadCharge(amount, by, receipts)
    if (!shares.ok) {
      const detail = sayFault(shares.error, by, goods)
      throw new Refusal('invalid-input', detail, { [`charges.${index}.by`]: detail })
    }
    return shares.value
  })
}

function sayFault(fault: SpreadFault, by: Spread, goods: readonly ReceivedGoods[]): string {
  switch (fault.kind) {
    case 'nothing':
      return 'Nothing has come in yet that this could be spread over.'
    case 'other unit':
      return `${goods[0]!.code} is counted in ${goods[0]!.symbol}, ${goods[fault.at]!.code} in ${goods[fault.at]!.symbol}. Spread it by value, or choose goods of one unit.`
    case 'no measure': {
      const { code } = goods[fault.at]!
      return by === 'mass'
        ? `How much ${code} weighs is not known. Say so among its units, or spread it by value.`
        : `How much room ${code} takes is not known. Say so among its units, or spread it by value.`
    }
    case 'all nought':
      return by === 'value'
        ? 'These goods cost nothing. Spread it by quantity.'
        : 'These goods come to nothing. Spread it otherwise.'
  }
}
