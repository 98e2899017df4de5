import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { listBySite } from '~~/server/services/stock/site-stock'
import { reverse } from '~~/server/ledger/reverse'
import { loadTransfer } from '~~/server/services/stock/transfer-queries'
import {
  createTransfer,
  endTransfer,
  loseTransfer,
  receiveTransfer,
  shipTransfer,
  transferAtOnce,
} from '~~/server/services/stock/transfers'
import { onTheWay } from '~~/server/services/stock/on-the-way'
import { SiteQuery } from '~~/shared/stock/requests'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'
import { balanceTexts, here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

describe('transfers', () => {
  it('leave in part, are on the way, arrive in part, and what is missing is corrected; every figure by hand', async () => {
    const item = await make('CARRY')
    await open(item, '100', '2')
    const made = await inTransaction((tx) =>
      createTransfer(tx, owner, {
        fromSiteId: here.workshop,
        toSiteId: here.storeSite,
        leavesOn: '2026-10-05',
        dueOn: '2026-10-06',
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('5'), unit: 'dozen' }],
      }),
    )
    const [line] = (await loadTransfer(made.id)).lines
    await inTransaction((tx) =>
      shipTransfer(tx, owner, made.id, {
        version: 1,
        lines: [{ lineId: line!.id, quantity: typedQuantity('40'), unit: 'piece', binId: null, lot: '', piece: '' }],
      }),
    )
    expect([await balanceTexts(item), (await onTheWay(db, made.id)).map((w) => w.quantity)]).toEqual([
      ['On the way 40 on the way', 'Shelf A 60 available'],
      ['40'],
    ])
    expect(
      (await listBySite(SiteQuery.parse({ item }))).rows.map((row) => [row.site, row.onHand, row.inTransit]),
    ).toEqual([
      ['Store in Mill Lane', '0', '40'],
      ['Workshop', '60', '0'],
    ])
    await inTransaction((tx) =>
      receiveTransfer(tx, owner, made.id, {
        version: 2,
        lines: [
          {
            lineId: line!.id,
            lotId: null,
            pieceId: null,
            quantity: typedQuantity('30'),
            unit: 'piece',
            binId: here.store,
          },
        ],
      }),
    )
    const over = await refusalOf((tx) =>
      receiveTransfer(tx, owner, made.id, {
        version: 3,
        lines: [
          {
            lineId: line!.id,
            lotId: null,
            pieceId: null,
            quantity: typedQuantity('11'),
            unit: 'piece',
            binId: here.store,
          },
        ],
      }),
    )
    expect(over.detail).toBe('CARRY: 10 pc are on the way, and 11 pc would arrive.')
    expect(
      (
        await refusalOf((tx) =>
          receiveTransfer(tx, owner, made.id, {
            version: 3,
            lines: [
              {
                lineId: line!.id,
                lotId: null,
                pieceId: null,
                quantity: typedQuantity('1'),
                unit: 'piece',
                binId: here.shelf,
              },
            ],
          }),
        )
      ).fields,
    ).toHaveProperty(['lines.0.binId'])
    await inTransaction((tx) =>
      loseTransfer(tx, owner, made.id, {
        version: 3,
        reason: 'lost on the way',
        lines: [{ lineId: line!.id, lotId: null, pieceId: null, quantity: typedQuantity('2'), unit: 'piece' }],
      }),
    )
    expect((await refusalOf((tx) => endTransfer(tx, owner, made.id, 4))).detail).toContain('are on the way')
    await inTransaction((tx) =>
      receiveTransfer(tx, owner, made.id, {
        version: 4,
        lines: [
          {
            lineId: line!.id,
            lotId: null,
            pieceId: null,
            quantity: typedQuantity('8'),
            unit: 'piece',
            binId: here.store,
          },
        ],
      }),
    )
    expect(await loadTransfer(made.id)).toMatchObject({
      status: 'open',
      lines: [{ shipped: '40', received: '38', lost: '2', quantity: '60' }],
    })
    await inTransaction((tx) => endTransfer(tx, owner, made.id, 5))
    // 98 pieces at 2.00 are left; 2 were lost
    expect([await onHand('CARRY'), await valueOf('CARRY'), (await loadTransfer(made.id)).status]).toEqual([
      '98',
      '19600',
      'done',
    ])
  })
  it('a reversal puts goods back on the way, and back to where they left', async () => {
    const item = await idOf('items', 'CARRY')
    const made = await inTransaction((tx) =>
      transferAtOnce(tx, owner, {
        fromSiteId: here.workshop,
        toSiteId: here.storeSite,
        leavesOn: '2026-10-05',
        dueOn: null,
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('10'), unit: 'piece', toBinId: here.store }],
      }),
    )
    const { status, postings } = await loadTransfer(made.id)
    expect(status).toBe('done')
    const [arrived, left] = postings
    await inTransaction((tx) => reverse(tx, owner, arrived!.id))
    expect((await onTheWay(db, made.id)).map((w) => w.quantity)).toEqual(['10'])
    await inTransaction((tx) => reverse(tx, owner, left!.id))
    expect([(await loadTransfer(made.id)).lines[0], await onHand('CARRY'), await valueOf('CARRY')]).toMatchObject([
      { shipped: '0', received: '0' },
      '98',
      '19600',
    ])
  })
  it('more than is free at the site is refused beside its line, and names the site', async () => {
    const item = await idOf('items', 'CARRY')
    const refusal = await refusalOf((tx) =>
      transferAtOnce(tx, owner, {
        fromSiteId: here.workshop,
        toSiteId: here.storeSite,
        leavesOn: '2026-10-05',
        dueOn: null,
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('99'), unit: 'piece', toBinId: here.store }],
      }),
    )
    expect(refusal.fields).toEqual({ 'lines.0.quantity': 'CARRY: 99 pc are to leave, and 60 pc are free at Workshop.' })
    expect(
      (
        await refusalOf((tx) =>
          createTransfer(tx, owner, {
            fromSiteId: here.workshop,
            toSiteId: here.workshop,
            leavesOn: '2026-10-05',
            dueOn: null,
            note: '',
            lines: [{ itemId: item, quantity: typedQuantity('1'), unit: 'piece' }],
          }),
        )
      ).fields,
    ).toHaveProperty('toSiteId')
    expect(
      (
        await refusalOf((tx) =>
          createTransfer(tx, owner, {
            fromSiteId: here.workshop,
            toSiteId: here.storeSite,
            leavesOn: '2026-10-05',
            dueOn: '2026-10-04',
            note: '',
            lines: [{ itemId: item, quantity: typedQuantity('1'), unit: 'piece' }],
          }),
        )
      ).fields,
    ).toHaveProperty('dueOn')
  })
})
