import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { inTransaction } from '~~/server/database/transactions'
import { cancelOrder, reopenOrder } from '~~/server/services/demand/order-end'
import { changeOrder, createOrder } from '~~/server/services/demand/orders'
import { loadOrder } from '~~/server/services/demand/order-queries'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { todayLines } from '~~/server/services/today/today'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const line = (itemId: number, quantity: string, id: number | null = null) => ({
  id,
  itemId,
  quantity: typedQuantity(quantity),
  unit: 'piece',
  price: '5',
})
const order = (...lines: ReturnType<typeof line>[]) =>
  inTransaction(async (tx) =>
    createOrder(tx, owner, { customerId: await idOf('customers', 'LARK'), dueOn: '2026-10-20', note: '', lines }),
  )
const load = (id: number) => loadOrder(id, owner.today)
const version = async (id: number): Promise<number> => (await load(id)).version
let made = 0
const stocked = async (quantity: string): Promise<number> => {
  const item = await make(`END-${++made}`)
  await open(item, quantity, '1.00')
  return item
}

describe('an order can end', () => {
  it('cancelled: what was allocated is free again, and it wants nothing', async () => {
    const item = await stocked('10')
    const { id, number } = await order(line(item, '6'))
    await inTransaction((tx) => allocate(tx, owner, id, 1))
    expect(await inTransaction(async (tx) => cancelOrder(tx, owner, id, { version: await version(id) }))).toEqual({
      id,
      status: 'cancelled',
    })
    const other = await order(line(item, '10'))
    expect((await load(other.id)).lines[0]).toMatchObject({ free: '10', got: '10' })
    expect((await refusalOf(async (tx) => allocate(tx, owner, id, await version(id)))).detail).toBe(
      `${number} is cancelled already.`,
    )
  })
  it('closed short where some of it was shipped; opened again it wants the rest', async () => {
    const item = await stocked('4')
    const { id } = await order(line(item, '12'))
    await inTransaction((tx) => allocate(tx, owner, id, 1))
    await inTransaction(async (tx) => ship(tx, owner, id, await version(id)))
    await inTransaction(async (tx) => cancelOrder(tx, owner, id, { version: await version(id) }))
    expect(await load(id)).toMatchObject({ status: 'closed short', lines: [{ shipped: '4' }] })
    await inTransaction(async (tx) => reopenOrder(tx, owner, id, { version: await version(id) }))
    expect((await load(id)).status).toBe('open')
    expect((await refusalOf(async (tx) => reopenOrder(tx, owner, id, { version: await version(id) }))).detail).toMatch(
      /was not cancelled: it is open\.$/,
    )
  })
  it('shipped once it is reduced to what was shipped', async () => {
    const item = await stocked('12')
    const { id } = await order(line(item, '20'))
    await inTransaction((tx) => allocate(tx, owner, id, 1))
    await inTransaction(async (tx) => ship(tx, owner, id, await version(id)))
    const { lines, version: seen } = await load(id)
    const edit = { version: seen, dueOn: '2026-10-20', note: '', lines: [line(item, '12', lines[0]!.id)] }
    await inTransaction((tx) => changeOrder(tx, owner, id, edit))
    expect((await load(id)).status).toBe('shipped')
  })
  it('of services alone it is told today, and done once they are recorded as rendered', async () => {
    const service = await make(`END-${++made}`, { kind: 'service' })
    const { id } = await order(line(service, '2'))
    const told = (await todayLines(owner.today)).lines.filter((entry) => entry.link === `/dispatch/${id}`)
    expect(told.map((entry) => entry.detail)).toEqual(['only services are left'])
    await inTransaction((tx) => ship(tx, owner, id, 1))
    expect(await load(id)).toMatchObject({ status: 'shipped', lines: [{ shipped: '2' }] })
  })
})
