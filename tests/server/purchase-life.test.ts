import { randomUUID } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { company } from '~~/server/database/schema'
import { inTransaction } from '~~/server/database/transactions'
import { approvePurchase } from '~~/server/services/purchasing/approve'
import { changePurchase } from '~~/server/services/purchasing/change-purchase'
import { confirmPurchase, waitingFor } from '~~/server/services/purchasing/confirm-purchase'
import { cancelPurchase, reopenPurchase } from '~~/server/services/purchasing/end-purchase'
import { filesOfPurchase } from '~~/server/services/purchasing/files'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { proposedLetter, sendPurchases } from '~~/server/services/purchasing/outgoing'
import { createOrder } from '~~/server/services/demand/orders'
import type { Actor } from '~~/server/utils/route'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make } from './stock-helpers'

/*
 * An order of two lines from Tully: 10 pieces of PL-A at 2.00, due 12 October, and 4 of PL-B at 5.50, due 19 October:
 * 20.00 + 22.00 = 42.00.
 */
withDemo()

const buyer: Actor = { userId: 3, name: 'Bert', role: 'buyer', today: '2026-10-05' }
const items = { a: 0, b: 0, c: 0 }
let supplierId = 0
let shelf = 0
beforeAll(async () => {
  supplierId = await idOf('suppliers', 'TULLY')
  shelf = await idOf('places', 'SHELF-A')
  items.a = await make('PL-A')
  items.b = await make('PL-B')
  items.c = await make('PL-C')
})
const line = (itemId: number, quantity: string, price: string, dueOn: string, id: number | null = null) => ({
  id,
  itemId,
  quantity: typedQuantity(quantity),
  unit: 'piece',
  price,
  dueOn,
})
const order = async () => {
  const lines = [line(items.a, '10', '2.00', '2026-10-12'), line(items.b, '4', '5.50', '2026-10-19')]
  const { id } = await inTransaction((tx) => createPurchase(tx, buyer, { supplierId, note: '', lines }))
  return loadPurchase(id)
}
type Purchase = Awaited<ReturnType<typeof order>>
const change = (of: Purchase, lines: ReturnType<typeof line>[]) =>
  inTransaction((tx) =>
    changePurchase(tx, buyer, of.id, { version: of.version, note: '', paymentTerms: '', deliveryTerms: '', lines }),
  )
const confirm = (of: Purchase, lines: readonly { lineId: number; quantity: string; price: string; dueOn: string }[]) =>
  inTransaction((tx) =>
    confirmPurchase(tx, buyer, of.id, {
      version: of.version,
      reference: 'T-77',
      lines: lines.map((entry) => ({ ...entry, quantity: typedQuantity(entry.quantity) })),
    }),
  )
const take = (of: Purchase, lineId: number, quantity: string) =>
  inTransaction((tx) =>
    receive(tx, owner, of.id, {
      version: of.version,
      packingList: '',
      lines: [{ lineId, quantity: typedQuantity(quantity), unit: 'piece', binId: shelf, lot: '', expiresOn: null }],
    }),
  )
const send = async (of: Purchase, actor: Actor = buyer) => {
  const letter = await proposedLetter(of.id)
  const files = await filesOfPurchase(of.id)
  await inTransaction((tx) =>
    sendPurchases(tx, actor, randomUUID(), [{ id: of.id, version: of.version, ...letter, files }]),
  )
  return letter
}
const told = (of: Purchase): unknown[] =>
  of.lines.map(({ code, entered, price, dueOn, confirmedOn, asked }) => [
    code,
    entered,
    price,
    dueOn,
    confirmedOn,
    asked,
  ])

describe('an order is changed at any time', () => {
  it('lines are added, changed and taken off; nothing of it was confirmed any more', async () => {
    const made = await order()
    const [a, b] = made.lines
    expect([made.state, made.total]).toEqual(['draft', '4200'])
    await confirm(made, [
      { lineId: a!.id, quantity: '10', price: '2.00', dueOn: '2026-10-12' },
      { lineId: b!.id, quantity: '4', price: '5.50', dueOn: '2026-10-19' },
    ])
    const confirmed = await loadPurchase(made.id)
    expect(confirmed.state).toBe('confirmed')
    // 12 × 2.00 + 3 × 1.25 = 27.75.
    await change(confirmed, [
      line(items.a, '12', '2.00', '2026-10-12', a!.id),
      line(items.c, '3', '1.25', '2026-10-26'),
    ])
    const changed = await loadPurchase(made.id)
    expect([changed.state, changed.total]).toEqual(['draft', '2775'])
    expect(told(changed)).toEqual([
      ['PL-A', '12', '2.00', '2026-10-12', null, null],
      ['PL-C', '3', '1.25', '2026-10-26', null, null],
    ])
    // A line that stays as it is stays confirmed.
    const [now] = changed.lines
    await confirm(changed, [{ lineId: now!.id, quantity: '12', price: '2.00', dueOn: '2026-10-12' }])
    const again = await loadPurchase(made.id)
    await change(again, [
      line(items.a, '12', '2', '2026-10-12', now!.id),
      line(items.c, '5', '1.25', '2026-10-26', again.lines[1]!.id),
    ])
    expect((await loadPurchase(made.id)).lines.map((entry) => entry.confirmedOn)).toEqual(['2026-10-05', null])
  })
  it('what has come stays: not below it, not another item, not taken off', async () => {
    const made = await order()
    const [a, b] = made.lines
    await take(made, a!.id, '6')
    const begun = await loadPurchase(made.id)
    const kept = line(items.b, '4', '5.50', '2026-10-19', b!.id)
    const tries: readonly (readonly [ReturnType<typeof line>[], string])[] = [
      [[line(items.a, '5', '2.00', '2026-10-12', a!.id), kept], 'lines.0.quantity'],
      [[line(items.c, '10', '2.00', '2026-10-12', a!.id), kept], 'lines.0.quantity'],
      [[kept], 'lines'],
    ]
    for (const [lines, field] of tries) {
      const refusal = await refusalOf((tx) =>
        changePurchase(tx, buyer, made.id, {
          version: begun.version,
          note: '',
          paymentTerms: '',
          deliveryTerms: '',
          lines,
        }),
      )
      expect([refusal.detail, Object.keys(refusal.fields ?? {})]).toEqual([
        '6 pc of PL-A have come already. Keep at least that much on its line.',
        [field],
      ])
    }
    // Down to what has come, it is done with.
    await change(begun, [line(items.a, '6', '2.00', '2026-10-12', a!.id)])
    expect((await loadPurchase(made.id)).state).toBe('received')
    const stale = await refusalOf((tx) =>
      changePurchase(tx, buyer, made.id, { version: 1, note: '', paymentTerms: '', deliveryTerms: '', lines: [kept] }),
    )
    expect([stale.code, stale.detail]).toEqual([
      'stale-version',
      expect.stringMatching(/was changed since you opened it/),
    ])
  })
})

describe('what the supplier confirms', () => {
  it('goes from then on, beside what was asked; confirmed as asked after all, nothing is beside it', async () => {
    const made = await order()
    const [a, b] = made.lines
    const asked = { entered: '10', unit: 'piece', price: '2.00', dueOn: '2026-10-12' }
    await confirm(made, [{ lineId: a!.id, quantity: '8', price: '2.10', dueOn: '2026-10-16' }])
    const late = await loadPurchase(made.id)
    expect(told(late)).toEqual([
      ['PL-A', '8', '2.10', '2026-10-16', '2026-10-05', asked],
      ['PL-B', '4', '5.50', '2026-10-19', null, null],
    ])
    // 8 × 2.10 + 22.00; goods come in at the price that was confirmed: 3 × 2.10.
    expect([late.total, late.supplierReference, late.state]).toEqual(['3880', 'T-77', 'draft'])
    await take(late, a!.id, '3')
    const [value] = await rows<{ value: string }>(
      db,
      sql`select value::text from moves where document_line_id = ${a!.id} order by id desc limit 1`,
    )
    expect(value!.value).toBe('630')
    const begun = await loadPurchase(made.id)
    const below = await refusalOf((tx) =>
      confirmPurchase(tx, buyer, made.id, {
        version: begun.version,
        reference: '',
        lines: [{ lineId: a!.id, quantity: typedQuantity('2'), price: '2.10', dueOn: '2026-10-16' }],
      }),
    )
    expect(below.fields).toEqual({ 'lines.0.quantity': 'PL-A: more than that has come already.' })
    await confirm(begun, [
      { lineId: a!.id, quantity: '10', price: '2', dueOn: '2026-10-12' },
      { lineId: b!.id, quantity: '4', price: '5.50', dueOn: '2026-10-19' },
    ])
    expect((await loadPurchase(made.id)).lines.map((entry) => entry.asked)).toEqual([null, null])
  })
  it('whoever waits for it longer is told before', async () => {
    const made = await order()
    const [, b] = made.lines
    const customerId = await idOf('customers', 'LARK')
    // 3 of PL-B are wanted on 20 October; none are here, and 4 come on the 19th.
    await inTransaction((tx) =>
      createOrder(tx, owner, {
        customerId,
        dueOn: '2026-10-20',
        note: '',
        lines: [{ id: null, itemId: items.b, quantity: typedQuantity('3'), unit: 'piece', price: '9' }],
      } as never),
    )
    const others = await rows<{ id: number }>(
      db,
      sql`select order_id as id from purchase_lines where item_id = ${items.b} and order_id <> ${made.id}`,
    )
    for (const { id } of others) {
      await rows(db, sql`update purchase_lines set closed_short = true where order_id = ${id}`)
    }
    const late = (dueOn: string) =>
      waitingFor(db, made.id, [{ lineId: b!.id, quantity: typedQuantity('4'), price: '5.50', dueOn }], owner.today)
    expect(await late('2026-10-20')).toEqual([])
    expect(await late('2026-10-26')).toMatchObject([
      { code: 'PL-B', quantity: '3', wantedOn: '2026-10-20', coveredOn: '2026-10-26' },
    ])
  })
})

describe('an order is sent', () => {
  it('with a letter, as PDF and UBL; what changes afterwards is a change that tells itself', async () => {
    const made = await order()
    const letter = await send(made)
    expect(letter.to).toBe('hello@tully.example')
    expect(letter.subject).toBe(`Purchase order ${made.number}`)
    expect(letter.text).toContain(`our purchase order ${made.number} of 5 Oct 2026, 2 lines, EUR 42.00 in all`)
    const sent = await loadPurchase(made.id)
    expect([sent.state, sent.sentOn, sent.unsent, sent.letters.map(({ to, state }) => [to, state])]).toEqual([
      'sent',
      '2026-10-05',
      [],
      [['hello@tully.example', 'kept']],
    ])
    const [mail] = await rows<{ message: string }>(db, sql`select message from mails where id = ${sent.letters[0]!.id}`)
    for (const [name, type] of [
      [`${made.number}.pdf`, 'application/pdf'],
      [`${made.number}.xml`, 'application/xml'],
    ]) {
      expect(mail!.message).toMatch(new RegExp(`Content-Type: ${type}; name="?${name}`))
    }

    const [a, b] = sent.lines
    await change(sent, [line(items.a, '12', '2.00', '2026-10-16', a!.id), line(items.c, '3', '1.25', '2026-10-26')])
    const changed = await loadPurchase(made.id)
    expect(changed.unsent.map(({ code, before, after }) => [code, before?.entered, after?.entered])).toEqual([
      ['PL-A', '10', '12'],
      ['PL-C', undefined, '3'],
      ['PL-B', '4', undefined],
    ])
    expect(b!.code).toBe('PL-B')
    const second = await send(changed)
    expect(second.subject).toBe(`Change to purchase order ${made.number}`)
    expect(second.text).toContain('PL-A: 10 pc → 12 pc, due 12 Oct 2026 → 16 Oct 2026.')
    expect(second.text).toContain('PL-C: 3 pc more, due 26 Oct 2026.')
    expect(second.text).toContain('PL-B: 4 pc not wanted any more.')
    expect((await loadPurchase(made.id)).unsent).toEqual([])
  })
  it('by the company’s own words, where it has some', async () => {
    await db.update(company).set({ orderLetter: 'Dear all, {number} for {total}. {unknown} {company}' })
    const made = await order()
    expect((await proposedLetter(made.id)).text).toBe(
      `Dear all, ${made.number} for EUR 42.00. {unknown} Hollowmere Bindery`,
    )
    await db.update(company).set({ orderLetter: '' })
  })
  it('above the set sum only once it is approved, up to what was approved', async () => {
    await db.update(company).set({ approveAbove: '40' })
    const made = await order()
    expect(made.toApprove).toBe('40')
    const refusal = await send(made).catch((error: unknown) => error as { code: string; detail: string })
    expect(refusal).toMatchObject({
      code: 'missing-right',
      detail: expect.stringMatching(/comes to more than 40 and has to be approved.*Ines Hartwell may do that\.$/),
    })
    await inTransaction((tx) => approvePurchase(tx, owner, made.id, { version: made.version }))
    const approved = await loadPurchase(made.id)
    expect([approved.toApprove, approved.approvedTotal, approved.approvedBy]).toEqual([null, '42', 'Ines Hartwell'])
    await send(approved)
    // One more piece, and it is above what was approved: whoever may approve does so by sending.
    const sent = await loadPurchase(made.id)
    const [a, b] = sent.lines
    await change(sent, [
      line(items.a, '11', '2.00', '2026-10-12', a!.id),
      line(items.b, '4', '5.50', '2026-10-19', b!.id),
    ])
    const dearer = await loadPurchase(made.id)
    expect(dearer.toApprove).toBe('40')
    await send(dearer, owner)
    expect((await loadPurchase(made.id)).approvedTotal).toBe('44')
    await db.update(company).set({ approveAbove: null })
  })
  it('to an address; without one the order stays unsent', async () => {
    const made = await order()
    const refusal = await refusalOf((tx) =>
      sendPurchases(tx, buyer, randomUUID(), [
        { id: made.id, version: made.version, to: '', subject: 'S', text: 'T', files: [] },
      ]),
    )
    expect(refusal.fields).toEqual({
      to: 'Tully Threads and Tools has no e-mail address. Type one here, or into the supplier’s details.',
    })
    expect((await loadPurchase(made.id)).state).toBe('draft')
  })
})

describe('an order is cancelled', () => {
  it('where nothing has come as a whole, else what has not come; and wanted again', async () => {
    const made = await order()
    expect(await inTransaction((tx) => cancelPurchase(tx, buyer, made.id, made))).toMatchObject({ status: 'cancelled' })
    const cancelled = await loadPurchase(made.id)
    expect([cancelled.state, await comingOf(items.a, made.id)]).toEqual(['cancelled', '0'])
    await inTransaction((tx) => reopenPurchase(tx, buyer, made.id, cancelled))
    const again = await loadPurchase(made.id)
    expect([again.state, await comingOf(items.a, made.id)]).toEqual(['draft', '10'])
    await take(again, again.lines[0]!.id, '4')
    const begun = await loadPurchase(made.id)
    expect(await inTransaction((tx) => cancelPurchase(tx, buyer, made.id, begun))).toMatchObject({
      status: 'closed short',
    })
    expect((await loadPurchase(made.id)).state).toBe('closed short')
  })
  it('one that has come as a whole is not opened again', async () => {
    const made = await order()
    await take(made, made.lines[0]!.id, '10')
    await take(await loadPurchase(made.id), made.lines[1]!.id, '4')
    const done = await loadPurchase(made.id)
    expect(done.state).toBe('received')
    const refusal = await refusalOf((tx) => reopenPurchase(tx, buyer, made.id, done))
    expect(refusal.detail).toBe(`All of ${made.number} has come; there is nothing to open again.`)
  })
})

/** What an order still brings of an item. */
async function comingOf(itemId: number, orderId: number): Promise<string> {
  const [found] = await rows<{ coming: string }>(
    db,
    sql`
      select trim_scale(coalesce(sum(l.quantity - l.received), 0))::text as coming
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      where l.item_id = ${itemId} and o.id = ${orderId} and o.status = 'open' and not l.closed_short`,
  )
  return found!.coming
}
