import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ratio, toText } from '~~/core/units/exact'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/database/transactions'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { receive } from '~~/server/services/purchasing/goods-in'
import { checkLedger } from '~~/server/ledger/check'
import { reverse } from '~~/server/ledger/reverse'
import { createBreakDown, loadBreakDown } from '~~/server/services/workshop/break-downs'
import { completeBreakDown } from '~~/server/services/workshop/complete-break-down'
import { createBuild } from '~~/server/services/workshop/builds'
import { undoBuild } from '~~/server/services/workshop/close-build'
import { loadBuild } from '~~/server/services/workshop/read-build'
import { completeBuild, recordBuild } from '~~/server/services/workshop/record-build'
import { kitToUnkit, unkit } from '~~/server/services/workshop/unkit'
import { BillEdit, BreakDownEdit } from '~~/shared/structure/requests'
import { RecordBuild, Unkit } from '~~/shared/workshop/requests'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'
import { balanceTexts, here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const define = async (kind: 'bills' | 'break-downs', definition: object): Promise<void> => {
  await inTransaction((tx) =>
    saveOne(tx, owner, shapeOf(kind), {
      id: null,
      version: null,
      definition: (kind === 'bills' ? BillEdit : BreakDownEdit).parse(definition) as never,
    }),
  )
}
const liquid = { stockUnit: 'kg', buyingUnit: 'kg', sellingUnit: 'kg', finestStep: '0.001' }
const balanceOf = async (itemId: number, lot = ''): Promise<number> =>
  (
    await rows<{ id: number }>(
      db,
      sql`
        select b.id
        from balances b
        left join lots l on l.id = b.lot_id
        where b.item_id = ${itemId} and b.on_hand > 0 and (${lot} = '' or l.number = ${lot})
        order by b.id
        limit 1`,
    )
  )[0]!.id

describe('break-downs', () => {
  const items = { drum: 0, tub: 0, sludge: 0 }
  const job = (times: string) =>
    inTransaction((tx) =>
      createBreakDown(tx, owner, { itemId: items.drum, times, dueOn: '2026-10-06', siteId: here.workshop }),
    )
  beforeAll(async () => {
    items.drum = await make('WB-DRUM', { ...liquid, tracking: 'lot' })
    items.tub = await make('WB-TUB', { ...liquid, tracking: 'lot', source: 'broken down' })
    items.sludge = await make('WB-SLUDGE', { ...liquid, source: 'broken down' })
    await define('break-downs', {
      itemId: items.drum,
      take: '10',
      unit: 'kg',
      loss: '0.5',
      lossUnit: 'kg',
      outputs: [
        { itemId: items.tub, quantity: typedQuantity('9'), unit: 'kg', share: '9' },
        { itemId: items.sludge, quantity: typedQuantity('0.5'), unit: 'kg', share: '1' },
      ],
    })
    await open(items.drum, '25', '2.00', { unit: 'kg', lot: 'D-1', expiresOn: '2027-03-01' })
    await open(items.drum, '25', '4.00', { unit: 'kg', lot: 'D-2', expiresOn: '2027-06-01' })
  })
  it('tells what comes out and the loss before it happens; a drum that was begun keeps its rest', async () => {
    const { id } = await job('3')
    const preview = await loadBreakDown(id, owner.today)
    expect([
      preview.take,
      preview.loss,
      preview.lossWrittenOff,
      preview.outputs.map((output) => [output.code, output.quantity, output.after]),
    ]).toEqual([
      '30',
      '1.5',
      false,
      [
        ['WB-TUB', '27', '27'],
        ['WB-SLUDGE', '1.5', '1.5'],
      ],
    ])
    expect(preview.components[0]!.takes.map((take) => [take.lot, take.before, take.after])).toEqual([
      ['D-1', '25', '0'],
      ['D-2', '25', '20'],
    ])
    const done = await inTransaction((tx) => completeBreakDown(tx, owner, id, { version: 1, binId: here.shelf }))
    // 50 kg stand at 150.00: 30 of them 90.00, 9 : 1
    expect([
      done.lots,
      await balanceTexts(items.tub),
      await valueOf('WB-TUB'),
      await valueOf('WB-SLUDGE'),
      await valueOf('WB-DRUM'),
    ]).toEqual([['D-1', 'D-2'], ['Shelf A (D-1) 22.5 available', 'Shelf A (D-2) 4.5 available'], '8100', '900', '6000'])
    expect(
      await rows<{ number: string; expires: string }>(
        db,
        sql`select number, expires_on as expires from lots where item_id = ${items.tub} order by number`,
      ),
    ).toEqual([
      { number: 'D-1', expires: '2027-03-01' },
      { number: 'D-2', expires: '2027-06-01' },
    ])
    await inTransaction((tx) => reverse(tx, owner, done.postingId))
    expect([await onHand('WB-TUB'), await onHand('WB-DRUM'), await valueOf('WB-DRUM')]).toEqual(['0', '50', '15000'])
  })
  it('takes the drum that is chosen, counts what really came out, and gives lots of its own', async () => {
    const { id, number } = await job('1')
    const done = await inTransaction(async (tx) =>
      completeBreakDown(tx, owner, id, {
        version: 1,
        binId: here.shelf,
        balanceId: await balanceOf(items.drum, 'D-2'),
        ownLots: true,
        outputs: [
          { itemId: items.tub, quantity: typedQuantity('8.8'), unit: 'kg' },
          { itemId: items.sludge, quantity: typedQuantity('0'), unit: 'kg' },
        ],
      }),
    )
    expect([done.lots, await balanceTexts(items.tub), await valueOf('WB-TUB'), await onHand('WB-SLUDGE')]).toEqual([
      [number],
      [`Shelf A (${number}) 8.8 available`],
      '3000',
      '0',
    ])
    await inTransaction((tx) => reverse(tx, owner, done.postingId))
    const { id: another } = await job('3')
    expect(
      (
        await refusalOf(async (tx) =>
          completeBreakDown(tx, owner, another, {
            version: 1,
            binId: here.shelf,
            balanceId: await balanceOf(items.drum, 'D-1'),
          }),
        )
      ).fields,
    ).toEqual({ balanceId: 'WB-DRUM WB-DRUM to test with: 30 kg needed, 25 kg free; 5 kg missing.' })
  })
  it('a loss goes off the books where the recipe says so', async () => {
    const [bulk, cup] = [await make('WB-VAT', liquid), await make('WB-CUP', { ...liquid, source: 'broken down' })]
    await define('break-downs', {
      itemId: bulk,
      take: '10',
      unit: 'kg',
      loss: '1',
      lossUnit: 'kg',
      lossWrittenOff: true,
      outputs: [{ itemId: cup, quantity: typedQuantity('9'), unit: 'kg' }],
    })
    await open(bulk, '20', '1.00', { unit: 'kg' })
    const { id } = await inTransaction((tx) =>
      createBreakDown(tx, owner, { itemId: bulk, times: '1', dueOn: '2026-10-06', siteId: here.workshop }),
    )
    const done = await inTransaction((tx) => completeBreakDown(tx, owner, id, { version: 1, binId: here.shelf }))
    expect([await valueOf('WB-VAT'), await valueOf('WB-CUP')]).toEqual(['1000', '900'])
    expect(
      await rows(
        db,
        sql`
          select place_kind as account, sum(amount)::text as amount
          from journal
          where posting_id = ${done.postingId}
          group by 1
          having sum(amount) <> 0
          order by 1`,
      ),
    ).toEqual([
      { account: 'bin', amount: '-100' },
      { account: 'correction', amount: '100' },
    ])
  })
  it('goods in breaks down by itself what its recipe says, lot and expiry carried; it is taken back with the goods', async () => {
    const [bulk, tub] = [
      await make('WB-KEG', { ...liquid, tracking: 'lot' }),
      await make('WB-JAR', { ...liquid, tracking: 'lot', source: 'broken down' }),
    ]
    await define('break-downs', {
      itemId: bulk,
      take: '20',
      unit: 'kg',
      onArrival: true,
      outputs: [{ itemId: tub, quantity: typedQuantity('19'), unit: 'kg' }],
    })
    const order = await inTransaction(async (tx) =>
      createPurchase(tx, owner, {
        supplierId: await idOf(
          'suppliers',
          (await rows<{ code: string }>(db, sql`select code from suppliers order by id limit 1`))[0]!.code,
        ),
        note: '',
        lines: [{ itemId: bulk, quantity: typedQuantity('50'), unit: 'kg', price: '3', dueOn: '2026-10-05' }],
      }),
    )
    const [line] = await rows<{ id: number }>(db, sql`select id from purchase_lines where order_id = ${order.id}`)
    const got = await inTransaction((tx) =>
      receive(tx, owner, order.id, {
        version: 1,
        packingList: '',
        lines: [
          {
            lineId: line!.id,
            quantity: typedQuantity('50'),
            unit: 'kg',
            binId: here.shelf,
            lot: 'K-9',
            expiresOn: '2027-08-01',
          },
        ],
      }),
    )
    expect(got.brokenDown.map((entry) => [entry.code, entry.quantity, entry.lots])).toEqual([['WB-KEG', '40', ['K-9']]])
    // 2 × 20 kg at 3.00; 10 kg are left as they came
    expect([await balanceTexts(tub), await valueOf('WB-JAR'), await balanceTexts(bulk)]).toEqual([
      ['Shelf A (K-9) 38 available'],
      '12000',
      ['Shelf A (K-9) 10 available'],
    ])
    expect(await rows(db, sql`select expires_on as expires from lots where item_id = ${tub}`)).toEqual([
      { expires: '2027-08-01' },
    ])
    await inTransaction((tx) => reverse(tx, owner, got.postingId!))
    expect([await onHand('WB-JAR'), await onHand('WB-KEG'), await valueOf('WB-KEG')]).toEqual(['0', '0', '0'])
    expect(await rows(db, sql`select status from break_downs where id = ${got.brokenDown[0]!.id}`)).toEqual([
      { status: 'cancelled' },
    ])
  })
})

describe('kits', () => {
  const items = { kit: 0, awl: 0, wax: 0, tin: 0 }
  beforeAll(async () => {
    items.awl = await make('WK-AWL')
    items.wax = await make('WK-WAX', { ...liquid, tracking: 'lot' })
    items.tin = await make('WK-TIN')
    items.kit = await make('WK-KIT', { source: 'kit', kitPolicy: 'sealed' })
    await define('bills', {
      itemId: items.kit,
      fromOn: '2026-01-01',
      batchUnit: 'piece',
      lines: [
        { itemId: items.awl, quantity: typedQuantity('2'), unit: 'piece' },
        { itemId: items.wax, quantity: typedQuantity('50'), unit: 'g' },
        { itemId: items.tin, quantity: typedQuantity('1'), unit: 'piece' },
      ],
    })
    await open(items.awl, '20', '1.00')
    await open(items.wax, '1', '8.00', { unit: 'kg', lot: 'W-1' })
    await open(items.tin, '10', '0.50')
  })
  it('are packed ahead and unpacked again; damaged parts are kept apart or thrown away; value in is value out and loss', async () => {
    const { id, number } = await inTransaction((tx) =>
      createBuild(tx, owner, {
        itemId: items.kit,
        quantity: typedQuantity('4'),
        unit: 'piece',
        dueOn: '2026-10-06',
        siteId: here.workshop,
      }),
    )
    expect(number).toMatch(/^KP-/)
    // 8 awls, 0.2 kg, 4 tins: 8.00 + 1.60 + 2.00
    expect(
      (
        await inTransaction((tx) =>
          completeBuild(tx, owner, id, { version: 1, binId: here.shelf, lot: '', expiresOn: null }),
        )
      ).value,
    ).toBe('1160')
    const preview = await kitToUnkit(items.kit, owner.today)
    expect([preview.choices.map((choice) => choice.free), preview.parts.map((part) => [part.code, part.each])]).toEqual(
      [
        ['4'],
        [
          ['WK-AWL', '2'],
          ['WK-WAX', '0.05'],
          ['WK-TIN', '1'],
        ],
      ],
    )
    const edit = Unkit.omit({ key: true }).parse({
      itemId: items.kit,
      balanceId: preview.choices[0]!.balanceId,
      quantity: typedQuantity('3'),
      unit: 'piece',
      binId: here.shelf,
      damaged: [
        { itemId: items.awl, quantity: typedQuantity('1'), unit: 'piece' },
        { itemId: items.tin, quantity: typedQuantity('2'), unit: 'piece', away: true },
      ],
    })
    await inTransaction((tx) => unkit(tx, owner, edit))
    expect([
      await onHand('WK-KIT'),
      await balanceTexts(items.awl),
      await balanceTexts(items.wax),
      await balanceTexts(items.tin),
    ]).toEqual([
      '1',
      ['Shelf A 17 available', 'Shelf A 1 damaged'],
      ['Shelf A (W-1) 0.95 available'],
      ['Shelf A 7 available'],
    ])
    // 8.70 went to the parts by what they stand at; two tins, 1.00, are gone
    expect([
      await valueOf('WK-KIT'),
      await valueOf('WK-AWL'),
      await valueOf('WK-WAX'),
      await valueOf('WK-TIN'),
    ]).toEqual(['290', '1800', '760', '350'])
  })
  it('more damaged than come out, or no kits there, is told beside its field', async () => {
    const edit = {
      itemId: items.kit,
      balanceId: await balanceOf(items.kit),
      quantity: typedQuantity('1'),
      unit: 'piece',
      binId: here.shelf,
      damaged: [{ itemId: items.awl, quantity: typedQuantity('3'), unit: 'piece', away: false }],
    }
    expect((await refusalOf((tx) => unkit(tx, owner, edit))).fields).toEqual({
      'damaged.0.quantity': 'Only 2 pc come out.',
    })
    expect(
      (await refusalOf((tx) => unkit(tx, owner, { ...edit, quantity: typedQuantity('2'), damaged: [] }))).code,
    ).toBe('short')
    expect(
      (await refusalOf(async (tx) => unkit(tx, owner, { ...edit, itemId: items.awl, damaged: [] }))).fields,
    ).toEqual({ itemId: 'Choose a kit that is packed.' })
  })
})

describe('quantity and value in are quantity and value out and loss', () => {
  it('whatever is built, in whichever parts, with whatever spoiled (25 random builds, then undone)', async () => {
    const [wood, nail, chair] = [
      await make('WP-WOOD'),
      await make('WP-NAIL'),
      await make('WP-CHAIR', { source: 'made' }),
    ]
    await define('bills', {
      itemId: chair,
      fromOn: '2026-01-01',
      batchUnit: 'piece',
      workRate: '11',
      minutesPerUnit: '7',
      lines: [
        { itemId: wood, quantity: typedQuantity('3'), unit: 'piece' },
        { itemId: nail, quantity: typedQuantity('7'), unit: 'piece' },
      ],
    })
    await open(wood, '400', '1.37')
    await open(nail, '900', '0.03')
    const state = async (): Promise<string[]> => [
      await onHand('WP-WOOD'),
      await onHand('WP-NAIL'),
      await onHand('WP-CHAIR'),
      await valueOf('WP-WOOD'),
      await valueOf('WP-NAIL'),
      await valueOf('WP-CHAIR'),
    ]
    const begun = await state()
    const part = fc.record({ made: fc.nat(4), wood: fc.option(fc.nat(9)), spoiled: fc.nat(2), finished: fc.boolean() })
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 8 }),
        fc.array(part, { minLength: 1, maxLength: 4 }),
        async (quantity, parts) => {
          const { id } = await inTransaction((tx) =>
            createBuild(tx, owner, {
              itemId: chair,
              quantity: typedQuantity(String(quantity)),
              unit: 'piece',
              dueOn: '2026-10-06',
              siteId: here.workshop,
            }),
          )
          for (const part of parts) {
            const now = await loadBuild(id, owner.today)
            if (now.status === 'done') {
              break
            }
            const line = now.components.find((c) => c.itemId === wood)!
            const uses = [
              ...(part.wood === null && part.spoiled === 0
                ? []
                : [
                    {
                      lineId: line.id,
                      quantity: typedQuantity(String(part.wood ?? 0)),
                      unit: 'piece',
                      balanceId: null,
                      scrap: '' as const,
                    },
                  ]),
              ...(part.spoiled > 0
                ? [
                    {
                      lineId: line.id,
                      quantity: typedQuantity(String(part.spoiled)),
                      unit: 'piece',
                      balanceId: null,
                      scrap: 'damaged' as const,
                    },
                  ]
                : []),
            ]
            if (part.made + (part.wood ?? 0) + part.spoiled === 0 && !part.finished) {
              continue
            }
            await inTransaction((tx) =>
              recordBuild(
                tx,
                owner,
                id,
                RecordBuild.omit({ key: true }).parse({
                  version: now.version,
                  made: typedQuantity(String(part.made)),
                  unit: 'piece',
                  binId: here.shelf,
                  uses,
                  finished: part.finished,
                }),
              ),
            )
          }
          const after = await loadBuild(id, owner.today)
          const [own] = await rows<{ into: string; out: string; work: string; off: string }>(
            db,
            sql`
              select
                coalesce(sum(case when t.kind = 'workshop' then m.value + m.variance end), 0)::text as into,
                coalesce(sum(case when f.kind = 'workshop' then m.value + m.variance end), 0)::text as out,
                (
                  select coalesce(sum(work_value), 0)::text
                  from postings
                  where document_kind = 'build' and document_id = ${id}
                ) as work,
                (
                  select coalesce(-sum(e.amount), 0)::text
                  from entries e
                  join postings p on p.id = e.posting_id
                  where p.document_kind = 'build' and p.document_id = ${id} and e.account = 'workshop'
                ) as off
              from postings o
              join moves m on m.posting_id = o.id
              join places f on f.id = m.from_place_id
              join places t on t.id = m.to_place_id
              where o.document_kind = 'build' and o.document_id = ${id}`,
          )
          expect(BigInt(own!.into) + BigInt(own!.work)).toBe(
            BigInt(own!.out) + BigInt(own!.off) + BigInt(after.cost.inWork),
          )
          if (after.status === 'done') {
            expect(after.cost.inWork).toBe('0')
          }
          // What the shelf lacks is what the build says it used; what it has more is what came out.
          const now = await state()
          for (const [index, item] of [
            [0, wood],
            [1, nail],
          ] as const) {
            expect(toText(ratio(begun[index]!).sub(ratio(now[index]!)))).toBe(
              after.components.find((c) => c.itemId === item)!.used,
            )
          }
          expect(now[2]).toBe(after.made)
          if (after.components.some((c) => c.used !== '0') || after.made !== '0') {
            await inTransaction(async (tx) => undoBuild(tx, owner, id, after.version))
          }
          expect(await state()).toEqual(begun)
        },
      ),
      { numRuns: 25 },
    )
  })
  it('every balance equals the sum of its moves, and every act of the journal sums to nothing', async () => {
    expect(await checkLedger()).toEqual([])
    expect(await rows(db, sql`select posting_id from journal group by 1 having sum(amount) <> 0`)).toEqual([])
  })
})
