import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { changeItem, createItem, loadItem } from '~~/server/services/catalogue/items'
import { setMany } from '~~/server/services/catalogue/set-many'
import { soldOutsideLimits } from '~~/server/services/demand/price-limits'
import { changeOrder, createOrder } from '~~/server/services/demand/orders'
import { loadOrder } from '~~/server/services/demand/order-queries'
import { fetchFromShop, placeInShop } from '~~/server/services/demand/shop'
import { ItemEdit } from '~~/shared/catalogue/item'
import type { Role } from '~~/shared/company/rights'
import { owner, refusalOf, withDemo } from './database'
import { make } from './stock-helpers'

withDemo()

const as = (role: Role) => ({ ...owner, role })
let lamp = 0
beforeAll(async () => {
  lamp = await make('LAMP', { price: '20', lowestPrice: '15', highestPrice: '30' })
})

describe('who sets selling prices', () => {
  const change = async (role: Role, fields: object) => {
    const item = await loadItem(lamp)
    const definition = ItemEdit.parse({ ...item, ...fields })
    return (tx: Parameters<typeof changeItem>[0]) =>
      changeItem(tx, as(role), { id: lamp, version: item.version, definition }, { confirmed: true })
  }
  it.each([
    ['price', '12.50', { lowestPrice: null }],
    ['lowestPrice', '1', {}],
    ['highestPrice', '99', {}],
    ['prices', [{ unit: 'piece', price: '16' }], {}],
  ])('a buyer does not: %s', async (field, value, more) => {
    const refusal = await refusalOf(await change('buyer', { ...more, [field]: value }))
    expect(refusal.fields?.[field]).toBe(
      'You are signed in as buyer. To set selling prices takes one of: owner, planner.',
    )
  })
  it('but changes what else there is to an item, and adds one without prices', async () => {
    await inTransaction(await change('buyer', { leadDays: 9, standardCost: '4' }))
    expect(await loadItem(lamp)).toMatchObject({ leadDays: 9, price: '20' })
    const shade = ItemEdit.parse({ ...(await loadItem(lamp)), code: 'SHADE', lowestPrice: null, highestPrice: null })
    expect((await refusalOf((tx) => createItem(tx, as('buyer'), shade))).fields?.price).toMatch(/selling prices/)
    await inTransaction((tx) => createItem(tx, as('buyer'), { ...shade, price: null }))
  })
  it('nor many at once', async () => {
    const set = { ids: [lamp], field: 'price' as const, value: '25', inherit: false, dry: true }
    const preview = await inTransaction((tx) => setMany(tx, as('buyer'), set))
    expect(preview.faults.map((fault) => fault.detail)).toEqual([
      'You are signed in as buyer. To set selling prices takes one of: owner, planner.',
    ])
  })
  it('a planner does', async () => {
    await inTransaction(await change('planner', { price: '21' }))
    expect((await loadItem(lamp)).price).toBe('21')
  })
})

describe('a price outside what the item allows', () => {
  const order = (price: string, more: object = {}) => ({
    customerId: 1,
    dueOn: '2026-10-30',
    note: '',
    lines: [{ id: null, itemId: lamp, quantity: typedQuantity('2'), unit: 'piece', price }],
    ...more,
  })
  const UNDER = 'LAMP has a lowest price of 15.00 for one piece; this is 12.'

  it('is refused to a planner, beside the price', async () => {
    const refusal = await refusalOf((tx) => createOrder(tx, as('planner'), order('12', { confirmed: true })))
    expect(refusal.fields?.['lines.0.price']).toBe(`${UNDER} Another price takes one of: owner.`)
    const above = await refusalOf((tx) => createOrder(tx, as('planner'), order('31')))
    expect(above.fields?.['lines.0.price']).toMatch(/^LAMP has a highest price of 30.00/)
  })
  it('needs a yes of an owner, and the order keeps it', async () => {
    const refusal = await refusalOf((tx) => createOrder(tx, owner, order('12')))
    expect([refusal.code, refusal.effects]).toEqual(['needs-yes', [UNDER]])
    const made = await inTransaction((tx) => createOrder(tx, owner, order('12', { confirmed: true })))
    expect((await loadOrder(made.id, '2026-10-05')).outsideLimits).toEqual([UNDER])
  })
  it('stands once it was agreed: a planner changes the day, not the price', async () => {
    const made = await inTransaction((tx) => createOrder(tx, owner, order('12', { confirmed: true })))
    const { lines, version } = await loadOrder(made.id, '2026-10-05')
    const edit = (price: string) => ({
      version,
      dueOn: '2026-11-02',
      note: '',
      lines: [{ id: lines[0]!.id, itemId: lamp, quantity: typedQuantity('3'), unit: 'piece', price }],
    })
    expect((await refusalOf((tx) => changeOrder(tx, as('planner'), made.id, edit('11')))).code).toBe('invalid-input')
    await inTransaction((tx) => changeOrder(tx, as('planner'), made.id, edit('12')))
    expect(await soldOutsideLimits(db, made.id)).toEqual([UNDER])
  })
  it('was agreed in the web shop', async () => {
    const placed = { buyer: 'Ada Lindqvist', email: 'ada@example.org', note: '' }
    const { number } = await inTransaction((tx) =>
      placeInShop(tx, owner, { ...placed, lines: [{ code: 'LAMP', quantity: 1, price: '12' }] }),
    )
    const { orders } = await inTransaction((tx) => fetchFromShop(tx, as('planner'), [number]))
    expect(orders).toHaveLength(1)
  })
})
