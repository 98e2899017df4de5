import { pick } from '~~/core/stock'
import { toText, type Ratio } from '~~/core/units/exact'
import type { NeededComponent, Take } from '~~/shared/workshop/answers'
import type { MeasuredItem } from '../catalogue/measured-items'
import type { StockedPickable } from '../stock/pickable'

/** Which lots and bins goods would come from now, before → after. */
export function previewTakes(
  item: MeasuredItem,
  quantity: Ratio,
  stock: readonly StockedPickable[],
  today: string,
): NeededComponent {
  const { picks, missing } = pick(stock, quantity, today)
  return {
    itemId: item.id,
    code: item.code,
    name: item.name,
    symbol: item.symbol,
    need: toText(quantity),
    missing: toText(missing),
    takes: picks.map((p): Take => ({
      balanceId: p.balanceId,
      bin: p.binName,
      lot: p.lotNumber,
      piece: p.pieceLabel,
      expiresOn: p.expiresOn,
      before: toText(p.onHand),
      quantity: toText(p.quantity),
      after: toText(p.onHand.sub(p.quantity)),
    })),
  }
}
