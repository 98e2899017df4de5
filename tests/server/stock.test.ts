import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { printLotLabels } from '~~/server/services/catalogue/labels'
import { inTransaction } from '~~/server/database/transactions'
import { createOrder } from '~~/server/services/demand/orders'
import { loadOrder } from '~~/server/services/demand/order-queries'
import { allocatePicks } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { receive } from '~~/server/services/purchasing/goods-in'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { correct, moveStock } from '~~/server/services/stock/correct'
import { traceGoods } from '~~/server/services/stock/genealogy'
import { editLot, splitPiece } from '~~/server/services/stock/pieces'
import { listBalances } from '~~/server/services/stock/queries'
import { listLots } from '~~/server/services/stock/lot-queries'
import { reverse } from '~~/server/ledger/reverse'
import { createBuild } from '~~/server/services/workshop/builds'
import { completeBuild } from '~~/server/services/workshop/record-build'
import { PrintLotLabels } from '~~/shared/catalogue/labels'
import { LotQuery, StockQuery } from '~~/shared/stock/requests'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'
import { balanceTexts, here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

describe('pieces', () => {
  // 2 000 ft² bought, held in feet at 15 ft wide, comes as rolls of 25, 50 and the rest: 133.33… − 75 = 58.33, and
  // 0.0033… ft = 0.05 ft² stay over (common practice, no source).
  it('three rolls of one packing list, each with its label, dye lot and measure; the residue stays on the last', async () => {
    const felt = await make('FELT-15', {
      stockUnit: 'ft',
      buyingUnit: 'ft2',
      sellingUnit: 'ft',
      finestStep: '0.01',
      tracking: 'piece',
      relations: [{ unit: 'ft', per: '15', ofUnit: 'ft2' }],
    })
    const order = await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId: 1,
        note: '',
        lines: [{ itemId: felt, quantity: typedQuantity('2000'), unit: 'ft2', price: '0.30', dueOn: '2026-10-20' }],
      }),
    )
    const [line] = (await loadPurchase(order.id)).lines
    const roll = (quantity: string, more: object = {}) => ({
      quantity: typedQuantity(quantity),
      unit: 'ft',
      label: '',
      lot: '',
      traits: {},
      ...more,
    })
    const edit = {
      version: 1,
      packingList: 'PL 9',
      lines: [
        {
          lineId: line!.id,
          quantity: typedQuantity('2000'),
          unit: 'ft2',
          binId: here.rack,
          lot: 'D-77',
          expiresOn: null,
          traits: { 'dye lot': '77' },
          pieces: [
            roll('25', { label: 'ROLL-A' }),
            roll('50', { traits: { 'dye lot': '77', width: 'narrow' } }),
            roll('58.33'),
          ],
        },
      ],
    }
    const done = await inTransaction((tx) => receive(tx, owner, order.id, edit))
    expect(done.lines).toEqual([
      {
        lineId: line!.id,
        code: 'FELT-15',
        quantity: '133.33',
        symbol: 'ft',
        residue: '1/300',
        residueUnit: 'ft',
        value: '60000',
      },
    ])
    expect(await balanceTexts(felt)).toEqual([
      'Cloth rack ROLL-A (D-77) 25 available',
      'Cloth rack FELT-15-0001 (D-77) 50 available',
      'Cloth rack FELT-15-0002 (D-77) 58.33 available',
    ])
    const moves = await rows<{ q: string; v: string; n: string; d: string }>(
      db,
      sql`
        select quantity as q, value::text as v, residue_numerator as n, residue_denominator as d
        from moves
        where posting_id = ${done.postingId}
        order by line`,
    )
    // 2 000 × 0.30, the residue with it
    expect(moves.map((m) => [m.q, `${m.n}/${m.d}`])).toEqual([
      ['25', '0/1'],
      ['50', '0/1'],
      ['58.33', '1/300'],
    ])
    expect(moves.reduce((sum, m) => sum + Number(m.v), 0)).toBe(Number(done.lines[0]!.value))
    const [entry] = await rows<{ traits: object }>(db, sql`select traits from pieces where label = 'FELT-15-0001'`)
    expect(entry!.traits).toEqual({ 'dye lot': '77', width: 'narrow' })
    await inTransaction((tx) => reverse(tx, owner, done.postingId!))
    expect(await balanceTexts(felt)).toEqual([])
    expect((await refusalOf((tx) => receive(tx, owner, order.id, { ...edit, version: 3 }))).fields).toEqual({
      'lines.0.pieces.0.label': 'There is a piece ROLL-A already. Give another label, or leave it empty.',
    })
  })
  it('an offcut points back to the roll it was cut from, and takes its share of the value', async () => {
    const leather = await make('HIDE', {
      stockUnit: 'ft2',
      buyingUnit: 'ft2',
      sellingUnit: 'ft2',
      finestStep: '0.1',
      tracking: 'piece',
    })
    await open(leather, '90', '2', { unit: 'ft2', piece: 'HIDE-1', lot: 'H-3', traits: { thickness: '1.2' } })
    const [hide] = await rows<{ id: number }>(db, sql`select id from pieces where label = 'HIDE-1'`)
    const cut = await inTransaction((tx) =>
      splitPiece(tx, owner, hide!.id, {
        parts: [
          { quantity: typedQuantity('20'), unit: 'ft2', label: 'HIDE-1/a', binId: null },
          { quantity: typedQuantity('10'), unit: 'ft2', label: '', binId: here.rack },
        ],
      }),
    )
    expect(cut.labels).toEqual(['HIDE-1/a', 'HIDE-0001'])
    expect(await balanceTexts(leather)).toEqual([
      'Shelf A HIDE-1 (H-3) 60 available',
      'Shelf A HIDE-1/a (H-3) 20 available',
      'Cloth rack HIDE-0001 (H-3) 10 available',
    ])
    expect([await valueOf('HIDE'), cut.values.map(String)]).toEqual(['18000', ['6000', '4000', '2000']])
    expect(
      (
        await refusalOf((tx) =>
          splitPiece(tx, owner, hide!.id, {
            parts: [{ quantity: typedQuantity('60'), unit: 'ft2', label: '', binId: null }],
          }),
        )
      ).detail,
    ).toContain('leave nothing of it')
    const [part] = await rows<{ id: number }>(db, sql`select id from pieces where label = 'HIDE-0001'`)
    const back = await traceGoods({ lot: null, piece: part!.id }, 'back')
    expect(back.nodes.map((node) => [node.piece, node.level, node.onHand])).toEqual([
      ['HIDE-0001', 0, '10'],
      ['HIDE-1', 1, '60'],
    ])
    await inTransaction((tx) => reverse(tx, owner, cut.postingId))
    expect(await balanceTexts(leather)).toEqual(['Shelf A HIDE-1 (H-3) 90 available'])
    expect((await traceGoods({ lot: null, piece: part!.id }, 'back')).nodes).toHaveLength(1)
  })
  it('a piece is taken by its label only', async () => {
    const itemId = await idOf('items', 'HIDE')
    const less = {
      itemId,
      binId: here.shelf,
      lot: '',
      direction: 'less' as const,
      quantity: typedQuantity('1'),
      unit: 'ft2',
      reason: 'damage' as const,
      unitCost: '',
      expiresOn: null,
    }
    expect((await refusalOf((tx) => correct(tx, owner, less))).fields).toEqual({
      piece: 'HIDE is kept in pieces. Give the label of the piece.',
    })
    expect((await refusalOf((tx) => correct(tx, owner, { ...less, piece: 'NO' }))).fields).toEqual({
      piece: 'There is no piece NO of HIDE.',
    })
    await inTransaction((tx) => correct(tx, owner, { ...less, piece: 'HIDE-1' }))
    expect(await onHand('HIDE')).toBe('89')
    await inTransaction((tx) =>
      correct(tx, owner, {
        ...less,
        direction: 'more',
        piece: 'HIDE-1',
        reason: 'found',
        quantity: typedQuantity('2'),
      }),
    )
    expect(await balanceTexts(itemId)).toEqual(['Shelf A HIDE-1 (H-3) 91 available'])
  })
})

describe('lots and traits', () => {
  it('are found by any trait, by name and value', async () => {
    const cloth = await make('CLOTH-T', { tracking: 'lot' })
    for (const [lot, dye] of [
      ['A', '77'],
      ['B', '78'],
      ['C', '177'],
    ] as const) {
      await open(cloth, '5', '1', { lot, traits: { 'dye lot': dye } })
    }
    const found = async (query: object): Promise<(string | null)[]> =>
      (await listLots(LotQuery.parse({ item: cloth, ...query }))).rows.map((row) => row.lot)
    expect(await found({ trait: 'dye lot', value: '77' })).toEqual(['A', 'C'])
    expect(await found({ value: '78' })).toEqual(['B'])
    expect(await found({ trait: 'thickness' })).toEqual([])
    expect(
      (await listBalances(StockQuery.parse({ item: cloth, trait: 'dye lot', value: '78' }))).rows.map((row) => row.lot),
    ).toEqual(['B'])
  })
  it('a lot keeps the trait it has; another value is refused beside the lot', async () => {
    const cloth = await idOf('items', 'CLOTH-T')
    const refusal = await refusalOf((tx) =>
      correct(tx, owner, {
        itemId: cloth,
        binId: here.shelf,
        lot: 'A',
        direction: 'more',
        quantity: typedQuantity('1'),
        unit: 'piece',
        reason: 'found',
        unitCost: '',
        expiresOn: null,
        traits: { 'dye lot': '80' },
      }),
    )
    expect(refusal.fields).toEqual({ lot: 'Lot A is already here with dye lot 77. Give that, or another lot number.' })
    const [lot] = await rows<{ id: number }>(db, sql`select id from lots where item_id = ${cloth} and number = 'A'`)
    const edit = {
      version: 1,
      supplierNumber: 'S-1',
      madeOn: '2026-09-01',
      receivedOn: null,
      expiresOn: '2026-08-01',
      bestBeforeOn: null,
      traits: {},
      note: '',
    }
    expect((await refusalOf((tx) => editLot(tx, owner, lot!.id, edit))).fields).toHaveProperty('expiresOn')
    await inTransaction((tx) => editLot(tx, owner, lot!.id, { ...edit, expiresOn: '2027-08-01' }))
    expect((await refusalOf((tx) => editLot(tx, owner, lot!.id, edit))).code).toBe('stale-version')
  })
})

describe('exact lots for an order', () => {
  it('are set aside as chosen; more than is free, or than the order wants, is told beside the pick', async () => {
    const cloth = await idOf('items', 'CLOTH-T')
    const { id } = await inTransaction(async (tx) =>
      createOrder(tx, owner, {
        customerId: await idOf('customers', 'LARK'),
        dueOn: '2026-10-20',
        note: '',
        lines: [{ id: null, itemId: cloth, quantity: typedQuantity('6'), unit: 'piece', price: '1' }],
      }),
    )
    const [line] = (await loadOrder(id, owner.today)).lines
    const lies = (await listBalances(StockQuery.parse({ item: cloth, sort: 'bin' }))).rows
    const pickOf = (lot: string, quantity: string) => ({
      lineId: line!.id,
      balanceId: Number(lies.find((row) => row.lot === lot)!.id),
      quantity,
    })
    expect(
      (await refusalOf((tx) => allocatePicks(tx, owner, id, { version: 1, picks: [pickOf('C', '5.5')] }))).fields,
    ).toEqual({ 'picks.0.quantity': 'Only 5 pc of it are free.' })
    expect(
      (
        await refusalOf((tx) =>
          allocatePicks(tx, owner, id, { version: 1, picks: [pickOf('C', '4'), pickOf('B', '3')] }),
        )
      ).fields,
    ).toEqual({ 'picks.1.quantity': 'The order wants 6 pc more of CLOTH-T, not 7.' })
    expect(
      (
        await inTransaction((tx) =>
          allocatePicks(tx, owner, id, { version: 1, picks: [pickOf('C', '4'), pickOf('B', '1')] }),
        )
      ).lines,
    ).toEqual([{ code: 'CLOTH-T', quantity: '5', missing: '1', symbol: 'pc' }])
    expect((await loadOrder(id, owner.today)).allocations.map((a) => [a.lot, a.quantity]).sort()).toEqual([
      ['B', '1'],
      ['C', '4'],
    ])
    await inTransaction((tx) => ship(tx, owner, id, 2))
    expect(
      (await listBalances(StockQuery.parse({ item: cloth, sort: 'bin' }))).rows
        .map((row) => [row.lot, row.onHand])
        .sort(),
    ).toEqual([
      ['A', '5'],
      ['B', '4'],
      ['C', '1'],
    ])
  })
})

describe('what is made and kept in pieces', () => {
  it('gets a label, and labels can be printed', async () => {
    const [part, made] = [await make('STRIP'), await make('BELT', { source: 'made', tracking: 'piece' })]
    await open(part, '4', '1')
    await rows(
      db,
      sql`
        with b as (
          insert into boms (item_id, revision, name, from_on, batch_size, batch_unit)
          values (${made}, 1, 'Belt', '2026-01-01', 1, 'piece')
          returning id
        )
        insert into bom_lines (bom_id, position, item_id, numerator, denominator, unit)
        select id, 1, ${part}, 1, 1, 'piece'
        from b`,
    )
    const { id } = await inTransaction((tx) =>
      createBuild(tx, owner, { itemId: made, quantity: typedQuantity('2'), unit: 'piece', dueOn: '2026-10-08' }),
    )
    await inTransaction((tx) =>
      completeBuild(tx, owner, id, { version: 1, binId: here.shelf, lot: '', expiresOn: null }),
    )
    expect(await balanceTexts(made)).toEqual(['Shelf A BELT-0001 2 available'])
    const [belt] = await rows<{ id: number }>(db, sql`select id from pieces where label = 'BELT-0001'`)
    const pdf = await printLotLabels(
      PrintLotLabels.parse({
        symbology: 'Code 128',
        sheet: 'roll 62 × 29',
        things: [{ pieceId: belt!.id, copies: 2 }],
      }),
    )
    expect(pdf.toString('latin1').match(/\/Type \/Page\b/g)).toHaveLength(2)
    expect(
      (
        await refusalOf(async () =>
          printLotLabels(PrintLotLabels.parse({ symbology: 'QR', sheet: 'roll 62 × 29', things: [{ lotId: 999999 }] })),
        )
      ).code,
    ).toBe('not-found')
  })
})

describe('statuses', () => {
  it('goods on hold are not free, and come back; quarantine holds what is put into it', async () => {
    const item = await make('HOLD-ME')
    await open(item, '10', '1')
    const hold = {
      itemId: item,
      fromBinId: here.shelf,
      toBinId: here.shelf,
      lot: '',
      quantity: typedQuantity('4'),
      unit: 'piece',
      toStatus: 'on hold' as const,
    }
    const { postingId } = await inTransaction((tx) => moveStock(tx, owner, hold))
    expect(await balanceTexts(item)).toEqual(['Shelf A 6 available', 'Shelf A 4 on hold'])
    expect(
      (
        await refusalOf((tx) =>
          correct(tx, owner, {
            itemId: item,
            binId: here.shelf,
            lot: '',
            direction: 'less',
            quantity: typedQuantity('7'),
            unit: 'piece',
            reason: 'sample',
            unitCost: '',
            expiresOn: null,
          }),
        )
      ).detail,
    ).toContain('only 6 pc is free there')
    await inTransaction((tx) => reverse(tx, owner, postingId))
    expect(await balanceTexts(item)).toEqual(['Shelf A 10 available'])
    const [quarantine] = await rows<{ id: number; name: string }>(
      db,
      sql`select id, name from places where quarantine limit 1`,
    )
    await inTransaction((tx) => moveStock(tx, owner, { ...hold, toBinId: quarantine!.id, toStatus: '' }))
    expect(await balanceTexts(item)).toEqual(['Shelf A 6 available', `${quarantine!.name} 4 on hold`])
  })
})
