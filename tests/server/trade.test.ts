import { sql } from 'drizzle-orm'
import sharp from 'sharp'
import { crc32 } from 'node:zlib'
import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { loadDefinition } from '~~/server/services/catalogue/definitions'
import { daysOfCalendarFile } from '~~/server/services/catalogue/calendar-file'
import { holidayCountries, publicHolidays, readCalendarFile } from '~~/server/services/catalogue/holidays'
import { printLabels } from '~~/server/services/catalogue/labels'
import { keepPicture, loadPicture, picturesOfItems } from '~~/server/services/catalogue/pictures'
import { takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { listOrders } from '~~/server/services/demand/order-queries'
import { createOrder } from '~~/server/services/demand/orders'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { listDispatch } from '~~/server/services/dispatch/dispatch-queries'
import { takeSnapshot } from '~~/server/services/planning/snapshot'
import { receive } from '~~/server/services/purchasing/goods-in'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { correct } from '~~/server/services/stock/correct'
import { PrintLabels } from '~~/shared/catalogue/labels'
import { OrderQuery } from '~~/shared/demand/requests'
import { idOf, owner, refusalOf, withDemo } from './database'

withDemo()

describe('prices that an item allows', () => {
  const order = async (price: string, unit: string) => ({
    customerId: await idOf('customers', 'LARK'),
    dueOn: '2026-11-20',
    note: '',
    lines: [{ id: null, itemId: await idOf('items', 'NB-A5-RED'), quantity: typedQuantity('1'), unit, price }],
  })
  it.each([
    ['17.99', 'piece', 'NB-A5-RED has a lowest price of 18.00 for one piece; this is 17.99.'],
    ['32.01', 'piece', 'NB-A5-RED has a highest price of 32.00 for one piece; this is 32.01.'],
    ['215', 'carton', 'NB-A5-RED has a lowest price of 216.00 for one carton; this is 215.'],
  ])('%s for one %s is refused to a planner', async (price, unit, sentence) => {
    const edit = await order(price, unit)
    const refusal = await refusalOf((tx) => createOrder(tx, { ...owner, role: 'planner' }, edit))
    expect(refusal.fields?.['lines.0.price']).toBe(`${sentence} Another price takes one of: owner.`)
  })
  it.each([
    ['18', 'piece'],
    ['32', 'piece'],
    ['216', 'carton'],
  ])('%s for one %s is taken', async (price, unit) => {
    const edit = await order(price, unit)
    expect((await inTransaction((tx) => createOrder(tx, owner, edit))).number).toMatch(/^SO-/)
  })
})

describe('a supplier who is paid in another currency', () => {
  it('has the order in that currency, and goods enter at the rate of its day', async () => {
    const supplierId = await idOf('suppliers', 'GLINT')
    const itemId = await idOf('items', 'FOIL-COPPER')
    // 2 rolls at £30.00 are £60.00; at 1.16 to one pound they enter at €69.60.
    const { id } = await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId,
        note: '',
        lines: [{ itemId, quantity: typedQuantity('2'), unit: 'roll', price: '30.00', dueOn: '2026-10-20' }],
      }),
    )
    const made = await loadPurchase(id)
    expect(made).toMatchObject({ currency: 'GBP', rate: '1.16', total: '6000' })
    const binId = await idOf('places', 'SHELF-A')
    await inTransaction((tx) =>
      receive(tx, owner, id, {
        version: made.version,
        packingList: '',
        lines: [
          { lineId: made.lines[0]!.id, quantity: typedQuantity('2'), unit: 'roll', binId, lot: '', expiresOn: null },
        ],
      }),
    )
    expect(
      (
        await rows(
          db,
          sql`select trim_scale(quantity)::text as quantity, value::text from holdings where item_id = ${itemId}`,
        )
      )[0],
    ).toEqual({ quantity: '122', value: '6960' })
  })
  it('is not ordered from before a rate is known', async () => {
    const edit = {
      supplierId: await idOf('suppliers', 'GLINT'),
      orderedOn: '2025-12-31',
      note: '',
      lines: [
        {
          itemId: await idOf('items', 'FOIL-COPPER'),
          quantity: typedQuantity('1'),
          unit: 'roll',
          price: '30',
          dueOn: '2026-10-20',
        },
      ],
    }
    expect((await refusalOf((tx) => createPurchase(tx, owner, edit))).fields?.supplierId).toBe(
      'No rate of GBP is known on this day.',
    )
  })
})

describe('a service', () => {
  it('is sold beside goods, is never short, and moves nothing', async () => {
    const [title, book] = [await idOf('items', 'TITLE'), await idOf('items', 'SKETCH-A5')]
    const line = (itemId: number, quantity: string, price: string) => ({
      id: null,
      itemId,
      quantity: typedQuantity(quantity),
      unit: 'piece',
      price,
    })
    const { id } = await inTransaction((tx) =>
      createOrder(tx, owner, {
        customerId: 1,
        dueOn: '2026-10-12',
        note: '',
        lines: [line(title, '2', '6'), line(book, '2', '26')],
      }),
    )
    await inTransaction((tx) => allocate(tx, owner, id, 1))
    expect((await listDispatch()).find((o) => o.id === id)).toMatchObject({
      lines: 2,
      allocated: 2,
      fillable: 2,
      site: 'Workshop',
    })
    // Two at 6.00 and two at 26.00, in cents.
    const listed = await listOrders(OrderQuery.parse({ search: 'larkhill', size: 200 }))
    expect(listed.rows.find((order) => order.id === id)?.value).toBe('6400')
    const shipped = await inTransaction((tx) => ship(tx, owner, id, 2))
    expect(shipped.done).toBe(true)
    expect(await rows(db, sql`select 1 from moves where item_id = ${title}`)).toHaveLength(0)
  })
  it('alone on an order it is rendered without a shipment; nothing of it lies anywhere, nothing of it is planned', async () => {
    const repair = await idOf('items', 'REPAIR')
    const { id } = await inTransaction((tx) =>
      createOrder(tx, owner, {
        customerId: 1,
        dueOn: '2026-10-12',
        note: '',
        lines: [{ id: null, itemId: repair, quantity: typedQuantity('1.5'), unit: 'h', price: '42' }],
      }),
    )
    const snapshot = await takeSnapshot(db, {
      start: '2026-10-05',
      end: '2026-12-31',
      demandRule: 'both',
      forecastIds: [],
      forecastFalls: 'first day',
    })
    expect(
      [snapshot.nodes, snapshot.demands].map((list) =>
        list.some((entry) => ('node' in entry ? entry.node : entry.id) === String(repair)),
      ),
    ).toEqual([false, false])
    expect(await inTransaction((tx) => ship(tx, owner, id, 1))).toEqual({ postingId: null, done: true })
    const binId = await idOf('places', 'SHELF-A')
    expect(
      (
        await refusalOf((tx) =>
          correct(tx, owner, {
            itemId: repair,
            binId,
            lot: '',
            direction: 'more',
            quantity: typedQuantity('1'),
            unit: 'h',
            reason: 'found',
            unitCost: '',
            expiresOn: null,
          }),
        )
      ).fields?.itemId,
    ).toBe('REPAIR is a service; nothing of it lies anywhere.')
  })
})

/** A picture of one colour. */
const plain = (width: number, height: number, background = '#cf9143') =>
  sharp({ create: { width, height, channels: 3, background } })

describe('pictures', () => {
  it.each(['png', 'jpeg', 'webp'] as const)(
    'as %s are read by their content, made smaller, and kept as JPEG',
    async (format) => {
      const { id } = await keepPicture(await plain(2400, 600).toFormat(format).toBuffer())
      const [full, small] = [
        await sharp(await loadPicture(id, 'full')).metadata(),
        await sharp(await loadPicture(id, 'small')).metadata(),
      ]
      expect([full.width, full.height, full.format, small.width, small.height]).toEqual([1200, 300, 'jpeg', 96, 96])
    },
  )
  it('are turned upright as the camera says, and say nothing of where they were taken', async () => {
    const lying = await plain(80, 40)
      .jpeg()
      .withMetadata({ orientation: 6 })
      .withExif({ IFD3: { GPSLatitude: '52/1 0/1 0/1' } })
      .toBuffer()
    const { id } = await keepPicture(lying)
    const kept = await sharp(await loadPicture(id, 'full')).metadata()
    expect([kept.width, kept.height, kept.exif]).toEqual([40, 80, undefined])
  })
  it('a small one is not blown up', async () => {
    const { id } = await keepPicture(await plain(40, 30).png().toBuffer())
    expect((await rows(db, sql`select width, height from pictures where id = ${id}`))[0]).toEqual({
      width: 40,
      height: 30,
    })
  })
  it('what is none, or claims to be endless, is refused', async () => {
    const none = 'This is no picture that can be read.'
    await expect(keepPicture(Buffer.from('<svg onload="x"/>'))).rejects.toThrow(none)
    const [tiff, gif] = [await plain(8, 8).tiff().toBuffer(), await plain(8, 8).gif().toBuffer()]
    for (const other of [tiff, gif, Buffer.alloc(0), (await plain(64, 64).png().toBuffer()).subarray(0, 60)]) {
      await expect(keepPicture(other)).rejects.toThrow(none)
    }
    const huge = await plain(2, 2).png().toBuffer()
    huge.writeUInt32BE(20_000, 16)
    huge.writeUInt32BE(20_000, 20)
    huge.writeUInt32BE(crc32(huge.subarray(12, 29)), 29)
    const jpeg = await plain(8, 8).jpeg().toBuffer()
    const frame = jpeg.indexOf(Buffer.from([0xff, 0xc0]))
    jpeg.writeUInt16BE(20_000, frame + 5)
    jpeg.writeUInt16BE(20_000, frame + 7)
    for (const endless of [huge, jpeg]) {
      await expect(keepPicture(endless)).rejects.toThrow('more than 40 million pixels')
    }
  })
})

describe('pictures named by the codes of their items', () => {
  const picture = () => plain(64, 64, '#55823f').png().toBuffer()
  it('are taken in together and taken back together', async () => {
    const before = await loadDefinition(db, 'items', await idOf('items', 'WAX'))
    const done = await inTransaction(async (tx) =>
      picturesOfItems(tx, owner, [
        { name: 'wax.PNG', content: await picture() },
        { name: 'NB-A5-RED.png', content: await picture() },
      ]),
    )
    expect(done.changed).toBe(2)
    const after = await loadDefinition(db, 'items', before.id)
    expect([before.pictureId, (await loadPicture(after.pictureId!, 'small')).length > 100]).toEqual([null, true])
    await inTransaction((tx) => takeBack(tx, owner, done.batchId))
    expect((await loadDefinition(db, 'items', before.id)).pictureId).toBeNull()
  })
  it('of nothing are refused, and none is kept', async () => {
    const count = async () => (await rows<{ n: number }>(db, sql`select count(*)::int as n from pictures`))[0]!.n
    const before = await count()
    const content = await picture()
    expect(
      (
        await refusalOf((tx) =>
          picturesOfItems(tx, owner, [
            { name: 'WAX.png', content },
            { name: 'DRAGON.png', content },
          ]),
        )
      ).fields,
    ).toEqual({ 'files.1': 'There is no item “DRAGON”. Name each picture by the code of its item.' })
    await expect(
      inTransaction((tx) =>
        picturesOfItems(tx, owner, [
          { name: 'WAX.png', content },
          { name: 'AWL.png', content: Buffer.from('no') },
        ]),
      ),
    ).rejects.toThrow('This is no picture that can be read.')
    expect(await count()).toBe(before)
  })
})

describe('labels', () => {
  const asked = async (fields: object, code = 'NB-A5-NAVY', unit = 'carton') =>
    PrintLabels.parse({
      symbology: 'Code 128',
      sheet: 'A4, 3 × 8',
      items: [{ id: await idOf('items', code), unit, copies: 3 }],
      ...fields,
    })
  it.each(['roll 62 × 29', 'roll 100 × 50', 'A4, 3 × 8', 'A4, 2 × 7'])('on %s are a PDF', async (sheet) => {
    expect((await printLabels(await asked({ sheet }))).subarray(0, 5).toString()).toBe('%PDF-')
  })
  it('of a roll are one a page, of a sheet together', async () => {
    const pages = async (sheet: string) =>
      (await printLabels(await asked({ sheet, symbology: 'QR' }))).toString('latin1').match(/\/Type \/Page\b/g)?.length
    expect([await pages('roll 62 × 29'), await pages('A4, 3 × 8')]).toEqual([3, 1])
  })
  it('GS1 DataMatrix wants a GTIN of that very unit', async () => {
    expect((await printLabels(await asked({ symbology: 'GS1 DataMatrix' }))).length).toBeGreaterThan(1000)
    await expect(printLabels(await asked({ symbology: 'GS1 DataMatrix' }, 'AWL', 'dozen'))).rejects.toThrow(
      'AWL has no GTIN for one dozen.',
    )
  })
})

describe('closed days', () => {
  // Independent of the package: Germany, Feiertage by federal law and the church calendar of 2026 (Easter Sunday is 5
  // April 2026); France, Code du travail L3133-1, 2027 (Easter Sunday is 28 March 2027).
  it('of Germany in 2026 and France in 2027', () => {
    expect(publicHolidays('DE', '', 2026).map((h) => h.day)).toEqual([
      '2026-01-01',
      '2026-04-03',
      '2026-04-06',
      '2026-05-01',
      '2026-05-14',
      '2026-05-25',
      '2026-10-03',
      '2026-12-25',
      '2026-12-26',
    ])
    expect(publicHolidays('FR', '', 2027).map((h) => h.day)).toEqual([
      '2027-01-01',
      '2027-03-29',
      '2027-05-01',
      '2027-05-06',
      '2027-05-08',
      '2027-05-17',
      '2027-07-14',
      '2027-08-15',
      '2027-11-01',
      '2027-11-11',
      '2027-12-25',
    ])
  })
  it('of a region are more', () => {
    expect(publicHolidays('DE', 'BY', 2026).map((h) => h.day)).toEqual(
      expect.arrayContaining(['2026-01-06', '2026-06-04', '2026-11-01']),
    )
    expect(holidayCountries('DE').states.length).toBe(16)
  })
  it('come from an iCalendar file: whole days, each day of longer ones, yearly ones for three years', () => {
    const ics = (events: string) =>
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Made up//EN\r\n${events}END:VCALENDAR\r\n`
    const event = (lines: string) =>
      `BEGIN:VEVENT\r\nUID:${lines.length}@x.example\r\nDTSTAMP:20260101T000000Z\r\n${lines}\r\nEND:VEVENT\r\n`
    expect(
      readCalendarFile(
        ics(
          event('DTSTART;VALUE=DATE:20261224\r\nDTEND;VALUE=DATE:20261227\r\nSUMMARY:Between') +
            event('DTSTART:20261230T090000Z\r\nDTEND:20261230T100000Z\r\nSUMMARY:A meeting'),
        ),
        '2026-10-05',
      ),
    ).toEqual([
      { day: '2026-12-24', note: 'Between' },
      { day: '2026-12-25', note: 'Between' },
      { day: '2026-12-26', note: 'Between' },
    ])
    expect(
      readCalendarFile(
        ics(event('DTSTART;VALUE=DATE:20260302\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:Founders')),
        '2026-10-05',
      ).map((d) => d.day),
    ).toEqual(['2026-03-02', '2027-03-02', '2028-03-02', '2029-03-02'])
    expect(() => readCalendarFile(ics(event('DTSTART;VALUE=DATE:20260101\r\nDURATION:P73000D')), '2026-10-05')).toThrow(
      'lasts longer than ten years',
    )
    expect(() => readCalendarFile('hello', '2026-10-05')).toThrow('This is no iCalendar file.')
    expect(() =>
      readCalendarFile(ics(event('DTSTART:20261230T090000Z\r\nDTEND:20261230T100000Z')), '2026-10-05'),
    ).toThrow('The calendar marks no whole day.')
  })
  it('from a rule that never falls on a day are given up, while others are answered', async () => {
    const endless = (rule: string) =>
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nDTSTART;VALUE=DATE:20260101\r\nRRULE:${rule}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`
    let ticks = 0
    const clock = setInterval(() => ticks++, 50)
    const asked = daysOfCalendarFile(endless('FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30'), '2026-10-05')
    await expect(asked).rejects.toThrow('repeats something without end')
    clearInterval(clock)
    expect(ticks).toBeGreaterThan(20)
    await expect(daysOfCalendarFile(endless('FREQ=MONTHLY;BYDAY=6MO'), '2026-10-05')).rejects.toThrow('cannot be read')
    expect(await daysOfCalendarFile(endless('FREQ=YEARLY;COUNT=1'), '2026-10-05')).toEqual([
      { day: '2026-01-01', note: '' },
    ])
  })
})
