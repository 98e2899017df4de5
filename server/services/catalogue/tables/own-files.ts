import type { Tx } from '~~/server/database/client'
import type { Actor } from '~~/server/utils/route'
import { takeForecast, takeForecastBack } from '../../demand/forecast-file'
import { takeOrders, takeOrdersBack } from '../../demand/order-file'
import { takePastSales, takePastSalesBack } from '../../demand/past-sales'
import { takeReceipts, takeReceiptsBack } from '../../purchasing/goods-file'
import { takeOpening, takeOpeningBack } from '../../stock/opening'
import type { FileReader, OwnFile, OwnHow } from './file-reader'
import type { Taken } from './take-in'

interface Way {
  take(tx: Tx, actor: Actor, file: FileReader, how: OwnHow): Promise<Taken>
  takeBack(tx: Tx, actor: Actor, batchId: number): Promise<void>
}

/** Files that fill no table of the catalogue: what each brings goes its own way, and comes back so. */
export const OWN_FILES: Readonly<Record<OwnFile, Way>> = {
  'opening-stock': { take: takeOpening, takeBack: takeOpeningBack },
  'past-sales': { take: takePastSales, takeBack: takePastSalesBack },
  'sales-orders': { take: takeOrders, takeBack: takeOrdersBack },
  'goods-received': { take: takeReceipts, takeBack: takeReceiptsBack },
  forecast: { take: takeForecast, takeBack: takeForecastBack },
}
