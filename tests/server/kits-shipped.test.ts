import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/database/transactions'
import { createOrder } from '~~/server/services/demand/orders'
import { loadOrder } from '~~/server/services/demand/order-queries'
import { allocate, deallocate } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { checkLedger } from '~~/server/ledger/check'
import { reverse } from '~~/server/ledger/reverse'
import { createBuild } from '~~/server/services/workshop/builds'
import { completeBuild } from '~~/server/services/workshop/record-build'
import { BillEdit } from '~~/shared/structure/requests'
import { onHand, owner, refusalOf, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const items = { pen: 0, pad: 0, open: 0, either: 0, sealed: 0 }
const order = async (itemId: number, quantity: string): Promise<number> =>
  (
    await inTransaction((tx) =>
      createOrder(tx, owner, {
        customerId: 1,
        dueOn: '2026-10-06',
        note: '',
        lines: [{ id: null, itemId, quantity: typedQuantity(quantity), unit: 'piece', price: '10' }],
      }),
    )
  ).id
const version = async (id: number): Promise<number> =>
  (await rows<{ version: number }>(db, sql`select version from sales_orders where id = ${id}`))[0]!.version
const set = async (id: number) =>
  (await inTransaction(async (tx) => allocate(tx, owner, id, await version(id)))).lines.map((line) => [
    line.quantity,
    line.missing,
  ])
const sent = async (id: number) => inTransaction(async (tx) => ship(tx, owner, id, await version(id)))
const free = async (): Promise<string[]> =>
  (
    await rows<{ free: string }>(
      db,
      sql`
        select trim_scale(sum(b.on_hand - b.allocated))::text as free
        from balances b
        where b.item_id in (${items.pen}, ${items.pad})
        group by b.item_id
        order by b.item_id`,
    )
  ).map((row) => row.free)

beforeAll(async () => {
  items.pen = await make('KS-PEN')
  items.pad = await make('KS-PAD')
  for (const policy of ['open', 'either', 'sealed'] as const) {
    items[policy] = await make(`KS-${policy.toUpperCase()}`, { source: 'kit', kitPolicy: policy })
    await inTransaction((tx) =>
      saveOne(tx, owner, shapeOf('bills'), {
        id: null,
        version: null,
        definition: BillEdit.parse({
          itemId: items[policy],
          fromOn: '2026-01-01',
          batchUnit: 'piece',
          lines: [
            { itemId: items.pen, quantity: '2', unit: 'piece' },
            { itemId: items.pad, quantity: '1', unit: 'piece' },
          ],
        }),
      }),
    )
  }
  await open(items.pen, '20', '1.00')
  await open(items.pad, '8', '3.00')
  const { id } = await inTransaction((tx) =>
    createBuild(tx, owner, { itemId: items.either, quantity: typedQuantity('2'), unit: 'piece', dueOn: '2026-10-06' }),
  )
  await inTransaction((tx) => completeBuild(tx, owner, id, { version: 1, binId: here.shelf, lot: '', expiresOn: null }))
})

describe('kits in dispatch', () => {
  it('an open kit is set aside as its parts and packed when it is shipped; the cost of sales is what the parts cost', async () => {
    const id = await order(items.open, '2')
    const [line] = (await loadOrder(id, owner.today)).lines
    expect([line!.free, line!.canPack]).toEqual(['0', '2'])
    expect(await set(id)).toEqual([['2', '0']])
    const allocated = await loadOrder(id, owner.today)
    expect([
      allocated.lines[0]!.allocated,
      allocated.allocations,
      allocated.packing.map((job) => [job.quantity, job.code, job.parts.map((part) => [part.code, part.quantity])]),
    ]).toEqual([
      '2',
      [],
      [
        [
          '2',
          'KS-OPEN',
          [
            ['KS-PAD', '2'],
            ['KS-PEN', '4'],
          ],
        ],
      ],
    ])
    // 20 pens and 8 pads, less 4 and 2 of the kits packed ahead, less 4 and 2
    expect(await free()).toEqual(['12', '4'])
    const done = await sent(id)
    expect([done.done, await onHand('KS-OPEN'), await onHand('KS-PEN'), await onHand('KS-PAD')]).toEqual([
      true,
      '0',
      '12',
      '4',
    ])
    const [sold] = await rows<{ cost: string }>(
      db,
      sql`
        select sum(amount)::text as cost
        from journal
        where posting_id = ${done.postingId} and place_kind = 'customer'`,
    )
    expect(sold!.cost).toBe('1000')
    // Taken back, the kits lie there packed.
    await inTransaction((tx) => reverse(tx, owner, done.postingId!))
    expect(await onHand('KS-OPEN')).toBe('2')
  })
  it('“either” takes what is packed ahead, and packs the rest', async () => {
    const id = await order(items.either, '3')
    expect(await set(id)).toEqual([['3', '0']])
    const allocated = await loadOrder(id, owner.today)
    expect([allocated.allocations.map((a) => a.quantity), allocated.packing.map((job) => job.quantity)]).toEqual([
      ['2'],
      ['1'],
    ])
    // Given back, both are free again.
    await inTransaction(async (tx) => deallocate(tx, owner, id, await version(id)))
    expect([
      await free(),
      (await loadOrder(id, owner.today)).packing,
      (await loadOrder(id, owner.today)).lines[0]!.allocated,
    ]).toEqual([['12', '4'], [], '0'])
    await set(id)
    expect((await sent(id)).done).toBe(true)
    expect([await onHand('KS-EITHER'), await onHand('KS-PEN'), await onHand('KS-PAD')]).toEqual(['0', '10', '3'])
  })
  it('as many as the parts allow are set aside, and the rest stays open; a sealed kit is never packed at the table', async () => {
    const id = await order(items.open, '9')
    expect(await set(id)).toEqual([['3', '6']])
    expect((await sent(id)).done).toBe(false)
    expect(await onHand('KS-PAD')).toBe('0')
    const sealed = await order(items.sealed, '1')
    expect((await refusalOf(async (tx) => allocate(tx, owner, sealed, await version(sealed)))).detail).toContain(
      '1 pc KS-SEALED missing',
    )
  })
  it('every balance still equals the sum of its moves', async () => {
    expect(await checkLedger()).toEqual([])
  })
})
