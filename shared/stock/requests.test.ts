import { describe, expect, it } from 'vitest'
import type * as z from 'zod'
import { ChangeMethod, CloseBooks, Limits } from '../books/requests'
import { METHOD_SAYS } from '../books/words'
import { COSTINGS } from '../catalogue/words'
import { EnterCounts, NewCount } from './counts'
import { Allocate } from '../dispatch/requests'
import { NewInvoice, Receive } from '../purchasing/requests'
import { Correction, LotEdit, MoveStock, PutAwayQuery, SplitPiece, StockQuery, Traits } from './requests'
import { NewTransfer, ReceiveTransfer, ShipTransfer } from './transfers'

const key = '6f1c0f5e-6f0e-4d0e-9a53-0d3b3f7b8a11'
const CORRECTION = { key, itemId: 1, binId: 2, direction: 'less', quantity: '3', unit: 'piece', reason: 'damage' }
const MOVE = { key, itemId: 1, fromBinId: 2, toBinId: 3, quantity: '1', unit: 'piece' }
const RECEIPT = {
  key,
  version: 1,
  lines: [{ lineId: 1, quantity: '25', unit: 'm', binId: 2, pieces: [{ quantity: '25', unit: 'm' }] }],
}
const TRANSFER = {
  key,
  fromSiteId: 1,
  toSiteId: 2,
  leavesOn: '2026-10-05',
  lines: [{ itemId: 1, quantity: '1', unit: 'piece' }],
}
const COUNT = { key, name: 'Rack', kind: 'places', binIds: [4] }
const INVOICE = {
  key,
  number: 'R-1',
  invoicedOn: '2026-10-05',
  lines: [{ lineId: 1, quantity: '1', unit: 'piece', amount: '230' }],
}

const first = (schema: z.ZodType, data: unknown): string => {
  const read = schema.safeParse(data)
  return read.success ? 'taken' : `${read.error.issues[0]!.path.join('.')}: ${read.error.issues[0]!.message}`
}

describe('what is sent to the stockroom', () => {
  it.each<[string, z.ZodType, object]>([
    ['a correction', Correction, CORRECTION],
    ['a move', MoveStock, MOVE],
    ['a receipt by pieces', Receive, RECEIPT],
    ['a transfer', NewTransfer, TRANSFER],
    ['a shipment', ShipTransfer, { key, version: 1, lines: [{ lineId: 1, quantity: '1', unit: 'piece' }] }],
    [
      'an arrival',
      ReceiveTransfer,
      { key, version: 2, lines: [{ lineId: 1, quantity: '1', unit: 'piece', binId: 3 }] },
    ],
    ['a count', NewCount, COUNT],
    ['what was counted', EnterCounts, { lines: [{ lineId: 1, quantity: '0', unit: 'piece' }] }],
    ['an invoice', NewInvoice, INVOICE],
    ['a change of method', ChangeMethod, { itemIds: [1], method: 'standard', standardCost: '2.5' }],
    ['a closed day', CloseBooks, { through: '2026-09-30' }],
    ['open days', CloseBooks, { through: '' }],
  ])('%s: the least that is needed is taken', (_, schema, data) => {
    expect(first(schema, data)).toBe('taken')
  })
  it.each<[z.ZodType, object, string]>([
    [Correction, { ...CORRECTION, reason: 'because' }, 'reason: Choose a reason.'],
    [Correction, { ...CORRECTION, unitCost: 'dear' }, 'unitCost: Write a cost such as 12.50, or leave it empty.'],
    [Correction, { ...CORRECTION, status: 'lost' }, 'status: Choose a status.'],
    [
      Correction,
      { ...CORRECTION, effectiveOn: 'yesterday' },
      'effectiveOn: “yesterday” is no date. Write it as year-month-day, for example 2026-10-05.',
    ],
    [Correction, { ...CORRECTION, piece: 'x'.repeat(61) }, 'piece: Keep a label to 60 characters.'],
    [MoveStock, { ...MOVE, toBinId: null }, 'toBinId: Choose one.'],
    [SplitPiece, { key, parts: [] }, 'parts: Give at least one length.'],
    [Receive, { ...RECEIPT, lines: [] }, 'lines: Give the quantity of at least one line.'],
    [NewTransfer, { ...TRANSFER, lines: [] }, 'lines: Add at least one line.'],
    [
      NewTransfer,
      { ...TRANSFER, leavesOn: '' },
      'leavesOn: “” is no date. Write it as year-month-day, for example 2026-10-05.',
    ],
    [NewCount, { ...COUNT, binIds: [] }, 'binIds: Choose at least one bin.'],
    [NewCount, { ...COUNT, kind: 'groups' }, 'groupIds: Choose at least one group.'],
    [NewCount, { ...COUNT, recountOver: 'much' }, 'recountOver: Write an amount such as 20, or leave it empty.'],
    [NewCount, { ...COUNT, name: '' }, 'name: Give a name.'],
    [NewInvoice, { ...INVOICE, number: ' ' }, 'number: Give the invoice’s number.'],
    [
      NewInvoice,
      { ...INVOICE, lines: [{ ...INVOICE.lines[0], amount: '1.005' }] },
      'lines.0.amount: Write an amount such as 230.00.',
    ],
    [ChangeMethod, { itemIds: [], method: 'standard' }, 'itemIds: Choose at least one item.'],
    [ChangeMethod, { itemIds: [1], method: 'guess' }, 'method: Choose a method.'],
    [Limits, { limits: { maker: '-5' } }, 'limits.maker: Write an amount such as 50, or leave it empty.'],
    [
      Allocate,
      { key, version: 1, picks: [{ lineId: 1, balanceId: 2, quantity: 'some' }] },
      'picks.0.quantity: Write a quantity such as 12.5.',
    ],
    [
      LotEdit,
      { version: 1, madeOn: '5.10.', receivedOn: null, expiresOn: null, bestBeforeOn: null },
      'madeOn: “5.10.” is no date. Write it as year-month-day, for example 2026-10-05.',
    ],
  ])('%# is refused beside its field', (schema, data, fault) => {
    expect(first(schema, data)).toBe(fault)
  })
  it('traits that are left empty are not stated', () => {
    expect(Traits.parse({ 'dye lot': ' 77 ', grade: '' })).toEqual({ 'dye lot': '77' })
  })
  it('a question without filters asks for everything, today', () => {
    expect(StockQuery.parse({})).toMatchObject({
      search: '',
      item: null,
      site: null,
      status: '',
      asOf: null,
      page: 1,
      size: 50,
    })
  })
  it('items to put away are read from a list, and what is no number is passed over', () => {
    expect(PutAwayQuery.parse({ items: '3,x,,7,-1' })).toEqual({ items: [3, 7], site: null })
  })
  it('every costing method says what it means, and the one that IAS 2 does not allow says so', () => {
    expect(Object.keys(METHOD_SAYS).sort()).toEqual([...COSTINGS].sort())
    expect(METHOD_SAYS['last in, first out']).toContain('IAS 2 does not allow it')
  })
})
