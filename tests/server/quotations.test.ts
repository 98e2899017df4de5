import ExcelJS from 'exceljs'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { sql } from 'drizzle-orm'
import { inTransaction } from '~~/server/database/transactions'
import { createOrder } from '~~/server/services/demand/orders'
import { loadDefinition } from '~~/server/services/catalogue/definitions'
import { buyingNeeds } from '~~/server/services/purchasing/buying/buying-needs'
import { noteWant } from '~~/server/services/purchasing/buying/wants'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { askSuppliers, letterOfRequest } from '~~/server/services/purchasing/quotations/ask-suppliers'
import { listRequests } from '~~/server/services/purchasing/quotations/list-requests'
import { loadRequest } from '~~/server/services/purchasing/quotations/load-request'
import { quotationWorkbook, readQuotation } from '~~/server/services/purchasing/quotations/quotation-file'
import { recordQuotation } from '~~/server/services/purchasing/quotations/record-quotation'
import { filesOfRequest } from '~~/server/services/purchasing/quotations/request-document'
import { addSuppliers, cancelRequest, createRequest } from '~~/server/services/purchasing/quotations/requests'
import { takeQuotations } from '~~/server/services/purchasing/quotations/take-quotations'
import { todayLines } from '~~/server/services/today/today'
import { RequestQuery, type RecordQuotation } from '~~/shared/purchasing/quotations'
import { idOf, owner, refusalOf, withDemo } from './database'
import { ownSuppliers } from './purchase-helpers'
import { make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let first = 0
let second = 0
let third = 0
beforeAll(async () => {
  ;[first = 0, second = 0, third = 0] = await ownSuppliers()
})

let count = 0
/** A request of two suppliers for 100 of one item and 10 of another. */
async function asked(edit: { readonly answerBy?: string; readonly wantId?: number; readonly items?: number[] } = {}) {
  count++
  const items = edit.items ?? [await make(`QR-A${count}`), await make(`QR-B${count}`)]
  const { id } = await inTransaction((tx) =>
    createRequest(tx, owner, {
      answerBy: edit.answerBy ?? '2026-10-12',
      siteId: null,
      note: '',
      supplierIds: [first, second],
      lines: items.map((itemId, index) => ({
        itemId,
        quantity: typedQuantity(index === 0 ? '100' : '10'),
        unit: 'piece',
        neededOn: '2026-10-30',
        wantId: index === 0 ? (edit.wantId ?? null) : null,
      })),
    }),
  )
  const { lines } = await loadRequest(db, id, owner.today)
  return { id, items, lineIds: lines.map((line) => line.id) }
}
const versionOf = async (id: number): Promise<number> => (await loadRequest(db, id, owner.today)).version
async function quoted(id: number, supplierId: number, edit: Partial<RecordQuotation>): Promise<void> {
  const version = await versionOf(id)
  await inTransaction((tx) =>
    recordQuotation(tx, owner, id, {
      version,
      supplierId,
      isDeclined: false,
      reference: '',
      validUntil: null,
      charges: [],
      note: '',
      lines: [],
      ...edit,
    }),
  )
}
const line = (lineId: number, price: string, more: object = {}) => ({
  lineId,
  unit: 'piece',
  price,
  minimum: '0',
  multiple: '0',
  leadDays: 5,
  tiers: [],
  ...more,
})

describe('quotations side by side', () => {
  /*
   * By hand. First: 100 at 0.50 and 10 at 2.00 are 50.00 + 20.00, with 7.00 of freight 77.00.
   * Of the freight 7.00 × 50 ÷ 70 = 5.00 falls on the first line, 2.00 on the second.
   * Second: from 100 on each costs 0.40: 40.00; at least 20 at 1.50 are 30.00; with 2.00 of freight 72.00.
   * Least: 40.00 of the second and 20.00 of the first with both freights are 69.00; that is less than 77.00 and 72.00.
   */
  it('costs landed, by minimum and larger quantities; the least of all of it counts each charge once', async () => {
    const { id, lineIds } = await asked()
    const [a, b] = lineIds as [number, number]
    await quoted(id, first, { charges: [{ name: 'Freight', amount: '7.00' }], lines: [line(a, '0.50'), line(b, '2')] })
    await quoted(id, second, {
      charges: [{ name: 'Freight', amount: '2' }],
      lines: [
        line(a, '0.45', { tiers: [{ fromQuantity: '100', price: '0.40' }] }),
        line(b, '1.50', { minimum: '20', leadDays: 60 }),
      ],
    })
    const request = await loadRequest(db, id, owner.today)
    expect(request.quotations.map(({ total, isWhole }) => [total, isWhole])).toEqual([
      ['7700', true],
      ['7200', true],
    ])
    expect(request.quotations[0]!.lines.map(({ landed }) => landed)).toEqual(['5500', '2200'])
    expect(
      request.quotations[1]!.lines.map(({ quantity, priceThen, amount }) => [quantity, priceThen, amount]),
    ).toEqual([
      ['100', '0.4', '4000'],
      ['20', '1.5', '3000'],
    ])
    expect(request.least).toEqual({
      total: '6900',
      suppliers: [
        { lineId: a, supplierId: second },
        { lineId: b, supplierId: first },
      ],
    })
    // What is the least comes in time: no other choice is told of.
    expect(request.leastInTime).toBeNull()
  })

  it('tells the least of what is there in time, where that is another choice', async () => {
    const { id, lineIds } = await asked()
    const [a, b] = lineIds as [number, number]
    await quoted(id, first, { lines: [line(a, '1'), line(b, '1')] })
    await quoted(id, second, { lines: [line(a, '0.50', { leadDays: 90 }), line(b, '3')] })
    const { least, leastInTime } = await loadRequest(db, id, owner.today)
    expect([least!.total, leastInTime!.total]).toEqual(['6000', '11000'])
  })

  it('leaves out who declines, and has no total while a line is quoted by nobody', async () => {
    const { id, lineIds } = await asked()
    await quoted(id, first, { isDeclined: true })
    await quoted(id, second, { lines: [line(lineIds[0]!, '1')] })
    const request = await loadRequest(db, id, owner.today)
    expect(request.least).toBeNull()
    expect(request.quotations.map(({ isDeclined, total, isWhole }) => [isDeclined, total, isWhole])).toEqual([
      [true, null, false],
      [false, '10000', false],
    ])
  })
})

describe('asking', () => {
  it('goes by letter with a PDF and a workbook; who does not answer is reminded, and Today says so', async () => {
    const { id } = await asked({ answerBy: owner.today })
    const send = async (isReminder: boolean, today: string) => {
      const request = await loadRequest(db, id, today)
      const letter = await letterOfRequest(request, isReminder)
      const made = await filesOfRequest(id, [first, second], today)
      const files = new Map(
        made.map((entry) => [
          entry.supplierId,
          entry.files.map((file) => ({ ...file, content: Buffer.from(file.content) })),
        ]),
      )
      return inTransaction((tx) =>
        askSuppliers(
          tx,
          { ...owner, today },
          id,
          {
            key: crypto.randomUUID(),
            version: request.version,
            ...letter,
            letters: [
              { supplierId: first, to: 'one@mill.example' },
              { supplierId: second, to: 'two@mill.example' },
            ],
          },
          files,
        ),
      )
    }
    await send(false, owner.today)
    const { number } = await loadRequest(db, id, owner.today)
    const linesOf = async (day: string) => (await todayLines(day)).lines.filter((row) => row.title.includes(number))
    expect(await linesOf(owner.today)).toEqual([])
    expect((await linesOf('2026-10-06')).map(({ act }) => act)).toEqual(['Remind'])
    await send(true, '2026-10-06')
    expect(await linesOf('2026-10-07')).toEqual([])
    const letters = await rows<{ subject: string; message: string }>(
      db,
      sql`select subject, message from mails where entity = 'quotation request' and entity_id = ${id} order by id`,
    )
    expect(letters.map(({ subject }) => subject)).toEqual([
      `Request for quotation ${number}`,
      `Request for quotation ${number}`,
      `Reminder: request for quotation ${number}`,
      `Reminder: request for quotation ${number}`,
    ])
    expect(letters[0]!.message).toContain(`filename=${number}.pdf`)
    expect(letters[0]!.message).toContain(`filename=${number}.xlsx`)
  })

  it('refuses a letter without an address, one to somebody who has answered, and one of a cancelled request', async () => {
    const { id, lineIds } = await asked()
    const ask = async (to: string) => {
      const version = await versionOf(id)
      return refusalOf((tx) =>
        askSuppliers(
          tx,
          owner,
          id,
          { key: crypto.randomUUID(), version, subject: 'A', text: 'B', letters: [{ supplierId: first, to }] },
          new Map(),
        ),
      )
    }
    expect(Object.keys((await ask('')).fields!)).toEqual(['letters.0.to'])
    await quoted(id, first, { lines: [line(lineIds[0]!, '1')] })
    expect((await ask('a@mill.example')).detail).toContain('has answered already')
    await inTransaction(async (tx) => cancelRequest(tx, owner, id, await versionOf(id)))
    expect((await ask('a@mill.example')).code).toBe('not-now')
  })

  it('asks one more, once, and twelve at most; lists what is open with how many have answered', async () => {
    const { id, lineIds } = await asked()
    const version = await versionOf(id)
    await inTransaction((tx) => addSuppliers(tx, owner, id, { version, supplierIds: [first, third] }))
    await quoted(id, third, { lines: [line(lineIds[0]!, '1')] })
    const { number } = await loadRequest(db, id, owner.today)
    const { rows: listed } = await listRequests(RequestQuery.parse({ search: number }))
    expect(listed.map(({ asked: all, answered }) => [all, answered])).toEqual([[3, 1]])
  })

  it('refuses a day that is past, and a retired supplier, beside the field', async () => {
    const item = await make('QR-REFUSED')
    const request = {
      answerBy: '2026-10-12',
      siteId: null,
      note: '',
      supplierIds: [first],
      lines: [{ itemId: item, quantity: typedQuantity('1'), unit: 'piece', neededOn: '2026-10-30', wantId: null }],
    }
    const early = await refusalOf((tx) => createRequest(tx, owner, { ...request, answerBy: '2026-10-01' }))
    expect(Object.keys(early.fields!)).toEqual(['answerBy'])
    const unknown = await refusalOf((tx) => createRequest(tx, owner, { ...request, supplierIds: [999_999] }))
    expect(Object.keys(unknown.fields!)).toEqual(['supplierIds'])
  })
})

describe('a workbook that is filled in', () => {
  async function filledIn(id: number, cells: Readonly<Record<string, string | number>>): Promise<string> {
    const { bytes } = await quotationWorkbook(id, first, owner.today)
    const book = new ExcelJS.Workbook()
    await book.xlsx.load(bytes as unknown as ArrayBuffer)
    for (const [cell, value] of Object.entries(cells)) {
      book.worksheets[0]!.getCell(cell).value = value
    }
    return Buffer.from(await book.xlsx.writeBuffer()).toString('base64')
  }
  const read = async (id: number, cells: Readonly<Record<string, string | number>>) =>
    readQuotation(id, { fileName: 'answer.xlsx', content: await filledIn(id, cells) }, owner.today)

  it('is read into prices, larger quantities, charges, a number and a day', async () => {
    const { id, lineIds } = await asked()
    const answer = await read(id, {
      H2: 0.5,
      I2: 50,
      K2: 12,
      L2: 500,
      M2: 0.45,
      H5: '18.40',
      H8: '2026-11-15',
      H9: 'Q-771',
    })
    expect(answer).toMatchObject({
      reference: 'Q-771',
      validUntil: '2026-11-15',
      charges: [{ name: 'Freight', amount: '18.40' }],
      faults: [],
    })
    expect(answer.lines).toEqual([
      {
        lineId: lineIds[0],
        unit: 'piece',
        price: '0.5',
        minimum: '50',
        multiple: '0',
        leadDays: '12',
        tiers: [{ fromQuantity: '500', price: '0.45' }],
      },
    ])
  })

  it('tells every cell that cannot be read, by its line; the others are read all the same', async () => {
    const { id, lineIds } = await asked()
    const answer = await read(id, { H2: 'ask us', H3: 1.5, H5: 'free', H8: 'soon' })
    expect(answer.lines.map(({ lineId }) => lineId)).toEqual([lineIds[1]])
    expect(answer.faults).toEqual([
      { line: 2, detail: 'Price for one unit: “ask us” is no number.' },
      { line: 5, detail: 'Price for one unit: “free” is no number.' },
      {
        line: 8,
        detail: 'Prices hold until: “soon” is no date. Write it as year-month-day, for example 2026-10-05.',
      },
    ])
  })

  it('is refused where it is another file', async () => {
    const { id } = await asked()
    const content = Buffer.from('Item,Price\nA,1').toString('base64')
    await expect(readQuotation(id, { fileName: 'a.csv', content }, owner.today)).rejects.toMatchObject({
      code: 'invalid-input',
    })
  })
})

describe('taking what is quoted', () => {
  it('writes one order a supplier with its charges, changes the terms, and takes the want off the list', async () => {
    const item = await make('QR-WANTED')
    const other = await make('QR-OTHER')
    const { id: wantId } = await inTransaction((tx) =>
      noteWant(tx, owner, {
        itemId: item,
        quantity: typedQuantity('100'),
        unit: 'piece',
        neededOn: '2026-10-30',
        siteId: null,
        note: '',
        salesLineId: null,
      }),
    )
    const { id, lineIds } = await asked({ wantId, items: [item, other] })
    const [a, b] = lineIds as [number, number]
    await quoted(id, first, {
      reference: 'Q-9',
      charges: [{ name: 'Freight', amount: '5.00' }],
      lines: [line(a, '0.30', { minimum: '120' })],
    })
    await quoted(id, second, { lines: [line(b, '1.25', { tiers: [{ fromQuantity: '50', price: '1.10' }] })] })
    const version = await versionOf(id)
    const lines = [
      { lineId: a, supplierId: first },
      { lineId: b, supplierId: second },
    ]
    const taken = await inTransaction((tx) =>
      takeQuotations(tx, owner, id, { version, intoTerms: true, intoOrders: true, lines }),
    )
    expect(taken.orders).toHaveLength(2)
    // 120 at 0.30 are 36.00, with 5.00 of freight 41.00.
    expect(await loadPurchase(taken.orders[0]!.id)).toMatchObject({
      total: '4100',
      supplierReference: 'Q-9',
      charges: [{ name: 'Freight', amount: '5.00' }],
      lines: [{ entered: '120', price: '0.3', dueOn: '2026-10-30' }],
    })
    expect((await buyingNeeds(owner)).needs.filter((need) => need.wantId === wantId)).toEqual([])
    const { terms } = await loadDefinition(db, 'items', other)
    expect(terms).toMatchObject([{ supplierId: second, price: '1.25', leadDays: 5, tiers: [{ price: '1.10' }] }])
    expect(await loadRequest(db, id, owner.today)).toMatchObject({ status: 'taken' })
    const again = await refusalOf((tx) =>
      takeQuotations(tx, owner, id, { version: taken.version, intoTerms: false, intoOrders: true, lines }),
    )
    expect(again.detail).toContain('already')
  })

  /* 100 for a customer, delivered directly, and 10 for us are two orders; the freight of 5.00 stands on the first. */
  it('writes an order of its own for what goes to a customer directly, with the charges once', async () => {
    const [forCustomer, forUs] = [await make('QR-DIRECT'), await make('QR-OURS')]
    const sale = await inTransaction(async (tx) =>
      createOrder(tx, owner, {
        customerId: await idOf('customers', 'LARK'),
        dueOn: '2026-11-20',
        note: '',
        lines: [{ id: null, itemId: forCustomer, quantity: typedQuantity('100'), unit: 'piece', price: '9' }],
      }),
    )
    const [line1] = await rows<{ id: number }>(db, sql`select id from sales_lines where order_id = ${sale.id}`)
    const { id: wantId } = await inTransaction((tx) =>
      noteWant(tx, owner, {
        itemId: forCustomer,
        quantity: typedQuantity('100'),
        unit: 'piece',
        neededOn: '2026-10-30',
        siteId: null,
        note: '',
        salesLineId: line1!.id,
        isDirect: true,
      }),
    )
    const { id, lineIds } = await asked({ wantId, items: [forCustomer, forUs] })
    await quoted(id, first, {
      charges: [{ name: 'Freight', amount: '5.00' }],
      lines: lineIds.map((lineId) => line(lineId, '1')),
    })
    const version = await versionOf(id)
    const { orders } = await inTransaction((tx) =>
      takeQuotations(tx, owner, id, {
        version,
        intoTerms: false,
        intoOrders: true,
        lines: lineIds.map((lineId) => ({ lineId, supplierId: first })),
      }),
    )
    const written = await Promise.all(orders.map((order) => loadPurchase(order.id)))
    expect(written.map(({ directOrder, total, lines }) => [directOrder?.id ?? null, total, lines[0]!.code])).toEqual([
      [sale.id, '10500', 'QR-DIRECT'],
      [null, '1000', 'QR-OURS'],
    ])
    const { quotations } = await loadRequest(db, id, owner.today)
    expect(quotations[0]!.lines.map((quotedLine) => quotedLine.order?.id)).toEqual(orders.map((order) => order.id))
  })

  it('refuses prices that are no longer held, and a line that is not quoted', async () => {
    const { id, lineIds } = await asked()
    await quoted(id, first, { validUntil: '2026-10-10', lines: [line(lineIds[0]!, '1')] })
    const version = await versionOf(id)
    const take = (lineId: number, today: string) =>
      refusalOf((tx) =>
        takeQuotations(tx, { ...owner, today }, id, {
          version,
          intoTerms: false,
          intoOrders: true,
          lines: [{ lineId, supplierId: first }],
        }),
      )
    expect((await take(lineIds[0]!, '2026-10-11')).detail).toContain('held these prices until')
    expect((await take(lineIds[1]!, '2026-10-05')).code).toBe('invalid-input')
  })
})
