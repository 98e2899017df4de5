import { expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { inTransaction } from '~~/server/database/transactions'
import { correct } from '~~/server/services/stock/correct'
import { balanceTexts, here, make, open, withPlaces } from './stock-helpers'
import { owner, valueOf, withDemo } from './database'

withDemo()
withPlaces()

const CLIENTS = 8
const EACH = 5

it('a posting dated ahead does not disturb the others on its item: eight at once, five times each, and none fails', async () => {
  const item = await make('AHEAD')
  await open(item, '1000', '1.00')
  const take = (today: string) =>
    inTransaction((tx) =>
      correct(
        tx,
        { ...owner, today },
        {
          itemId: item,
          binId: here.shelf,
          lot: '',
          direction: 'less',
          quantity: typedQuantity('2'),
          unit: 'piece',
          reason: 'damage',
          unitCost: '',
          expiresOn: null,
        },
      ),
    )
  // Recorded on a day that is still to come.
  await take('2026-10-20')
  const client = async (): Promise<number> => {
    for (let n = 0; n < EACH; n++) {
      await take(owner.today)
    }
    return EACH
  }
  const done = await Promise.all(Array.from({ length: CLIENTS }, client))
  expect(done).toEqual(Array.from({ length: CLIENTS }, () => EACH))
  // 1000 less 2 for each of the 41.
  expect(await balanceTexts(item)).toEqual([expect.stringContaining(' 918 available')])
  expect(Number(await valueOf('AHEAD'))).toBe(91_800)
})
