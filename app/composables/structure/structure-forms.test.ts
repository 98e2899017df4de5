import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { ratio, toText } from '~~/core/units/exact'
import { standardUnits } from '~~/core/units/graph'
import type { UnitRow } from '~~/shared/catalogue/measure'
import { bestOffer, PartStructure, type Offer, type PartItem, type Parts } from '~~/shared/structure/parts'
import { linesOf, wordsOf } from './paste-lines'
import { lay, shareRoom, towerOf } from './tower-of'
import { billOf, blankLine, drawDraft, exactIn, measureOfPart, placedFaults, type BillForm } from './use-bill-form'
import { useHistory } from '../demand/use-history'
import { joinParts } from './use-parts'
import { balanceOfRecipe, blankRecipe, measureOfItem, recipeOf, type RecipeForm } from './use-recipe-form'

const UNITS = [...standardUnits.values()].map((unit) => ({
  code: unit.code,
  name: unit.name,
  plural: unit.plural,
  symbol: unit.symbol,
  dimension: unit.dimension,
  numerator: unit.ratio ? (unit.ratio.s * unit.ratio.n).toString() : null,
  denominator: unit.ratio ? unit.ratio.d.toString() : null,
  decimals: unit.decimals,
  rec20: unit.rec20,
  own: false,
  retired: false,
})) as UnitRow[]
const part = (id: number, code: string, more: Partial<PartItem> = {}): PartItem => ({
  id,
  code,
  name: code,
  source: 'bought',
  status: 'active',
  kitPolicy: 'sealed',
  tracking: 'none',
  stockUnit: 'piece',
  buyingUnit: 'piece',
  sellingUnit: 'piece',
  makingUnit: 'piece',
  finestStep: '1',
  symbol: 'pc',
  decimals: 0,
  relations: [],
  leadDays: 0,
  free: '0',
  onHand: '0',
  price: null,
  cost: null,
  standardCost: null,
  offers: [],
  comesFrom: null,
  ...more,
})
const BOOK = part(1, 'BOOK', { source: 'made', leadDays: 2 })
const BLOCK = part(2, 'BLOCK', { source: 'made', leadDays: 1, free: '5' })
const GLUE = part(3, 'GLUE', { stockUnit: 'kg', finestStep: '0.001', symbol: 'kg', cost: '5', free: '1' })
const SHEET = part(4, 'SHEET', { stockUnit: 'sheet', symbol: 'sheet', cost: '0.1', leadDays: 9 })
const line = (parent: number, child: number, per: string): Parts['lines'][number] => ({
  parent,
  child,
  per,
  fixed: '0',
  scrap: '0',
  outputYield: '1',
  offsetDays: 0,
  phantom: false,
})
const PARTS: Parts = {
  today: '2026-10-05',
  items: [BOOK, BLOCK, GLUE, SHEET],
  bills: [{ id: 9, itemId: 2, revision: 1, batch: '10', work: '1', other: '0', keeps: '1' }],
  lines: [line(2, 4, '8')],
  breakDowns: [],
}
const formOf = (lines: readonly Partial<BillForm['lines'][number]>[], more: Partial<BillForm> = {}): BillForm =>
  ({
    id: 7,
    version: 1,
    itemId: 1,
    name: '',
    revision: '1',
    fromOn: '',
    batchSize: '10',
    batchUnit: 'piece',
    yieldPercent: '100',
    workMinutes: '60',
    minutesPerUnit: '0',
    workRate: '20',
    otherCost: '0',
    note: '',
    lines: lines.map((entry) => ({ ...blankLine(), ...entry })),
    byProducts: [],
    steps: [],
    ...more,
  }) as BillForm
const draw = (lines: readonly Partial<BillForm['lines'][number]>[], more: Partial<BillForm> = {}, parts = PARTS) =>
  drawDraft(formOf(lines, more), parts, UNITS, '.')

describe('a draft as it is drawn', () => {
  it('rests on what is below its components: 8 sheets at 0.1 and 1 of work, 12 g of glue at 5, an hour at 20 for ten', () => {
    const { structure, summary } = draw([
      { itemId: 2, quantity: '10', unit: 'piece' },
      { itemId: 3, quantity: '3*40', unit: 'g' },
    ])
    const costed = structure!.costed(1, ratio(1), 'current')
    expect([toText(costed.total), summary]).toEqual([toText(ratio('1.8').add(ratio('0.06')).add(ratio(2))), [[], []]])
    expect(costed.rows.map((row) => [row.itemId, toText(row.quantity), row.isShort])).toEqual(
      [
        [2, '1', false],
        [3, '0.012', false],
        [4, '8', true],
      ].sort(
        (a, b) =>
          costed.rows.findIndex((row) => row.itemId === a[0]) - costed.rows.findIndex((row) => row.itemId === b[0]),
      ),
    )
  })
  it.each<[string, Partial<BillForm['lines'][number]>, RegExp]>([
    [
      'a loop by its path',
      { itemId: 2, quantity: '1', unit: 'piece' },
      /^This would run in a circle: (BOOK → BLOCK → BOOK|BLOCK → BOOK → BLOCK)\. An item cannot contain itself\.$/,
    ],
    [
      'a missing bridge',
      { itemId: 3, quantity: '10', unit: 'ml' },
      /^Nothing says how millilitre relates to kilogram\./,
    ],
    ['what cannot be read', { itemId: 3, quantity: 'some', unit: 'kg' }, /some/],
    [
      'what is less than the finest step',
      { itemId: 3, quantity: '0.4', unit: 'g' },
      /^0\.0004 kg a batch is less than the finest step of 0\.001 kg; a build takes a whole step\.$/,
    ],
    ['a retired component', { itemId: 4, quantity: '1', unit: 'sheet' }, /^SHEET is retired\. Take another/],
    ['a line that wants a quantity', { itemId: 3, quantity: '' }, /^Without a quantity it is not kept yet\.$/],
    ['a made component without a bill', { itemId: 5, quantity: '1', unit: 'piece' }, /^CASE has no bill in use yet\.$/],
  ])('says %s', (what, entry, summary) => {
    const parts: Parts = {
      ...PARTS,
      items: [
        BOOK,
        BLOCK,
        GLUE,
        what.includes('retired') ? { ...SHEET, status: 'retired' } : SHEET,
        part(5, 'CASE', { source: 'made' }),
      ],
      lines: what.includes('loop') ? [line(2, 1, '1')] : PARTS.lines,
    }
    expect(draw([entry], {}, parts).summary[0]![0]!.text).toMatch(summary)
  })
  it('offers the bridge that is missing', () => {
    expect(draw([{ itemId: 3, quantity: '10', unit: 'ml' }]).summary[0]![0]!.bridge).toEqual({ from: 'ml', to: 'kg' })
  })
  it('does without a root that it does not know, and without lines that are only begun', () => {
    expect(draw([{ itemId: 2, quantity: '1' }], { itemId: 99 }).structure).toBeNull()
    expect(
      draw([
        { itemId: null, quantity: '' },
        { itemId: 2, quantity: '' },
      ]).structure!.structure.lines,
    ).toHaveLength(1)
  })
  it('what is sent is exact, in the unit beside it; faults stand at the lines where they were', () => {
    const form = formOf([
      { itemId: null },
      { itemId: 3, quantity: '1/3', unit: 'kg', offsetDays: '' },
      { itemId: 2, quantity: '2*3', unit: 'piece' },
    ])
    const { definition, lines } = billOf(form, (id, quantity, unit) =>
      exactIn(
        measureOfPart(
          UNITS,
          PARTS.items.find((item) => item.id === id)!,
        ),
        quantity,
        unit,
        '.',
      ),
    )
    expect(
      (definition.lines as { quantity: string; offsetDays: string }[]).map((entry) => [
        entry.quantity,
        entry.offsetDays,
      ]),
    ).toEqual([
      ['1/3', '0'],
      ['6', '0'],
    ])
    expect(placedFaults({ 'lines.0.quantity': 'a', 'lines.1.unit': 'b', batchSize: 'c' }, lines)).toEqual({
      'lines.1.quantity': 'a',
      'lines.2.unit': 'b',
      batchSize: 'c',
    })
    expect([
      exactIn(null, '5', 'kg', '.'),
      exactIn(measureOfPart(UNITS, GLUE), 'some', 'kg', '.'),
      exactIn(measureOfPart(UNITS, GLUE), '500 g', 'kg', '.'),
    ]).toEqual(['5', 'some', '0.5'])
  })
})

describe('pasted lines', () => {
  const found = [
    { word: 'glue', id: 3, code: 'GLUE', name: 'Glue' },
    { word: 'block', id: 2, code: 'BLOCK', name: 'Block' },
  ]
  const paste = (cells: string[][]) =>
    linesOf(cells, found, UNITS, (id) => (id === 3 ? 'kg' : 'piece')).map(
      ({ itemId, quantity, unit, scrapPercent, note, word }) => [itemId ?? word, quantity, unit, scrapPercent, note],
    )
  it.each<[string, string[][], unknown[]]>([
    ['item, quantity, unit', [['GLUE', '12', 'g']], [[3, '12', 'g', '0', '']]],
    [
      'headings are passed over',
      [
        ['Part', 'Qty', 'Unit'],
        ['Block', '4', 'pieces'],
      ],
      [[2, '4', 'piece', '0', '']],
    ],
    ['without a unit it is that of the item', [['glue', '0.5']], [[3, '0.5', 'kg', '0', '']]],
    ['scrap and a note follow', [['glue', '12', 'g', '2.5 %', 'thin']], [[3, '12', 'g', '2.5', 'thin']]],
    ['a name between is passed over', [['glue', 'White glue', '12', 'g']], [[3, '12', 'g', '0', '']]],
    [
      'empty cells before are passed over, empty lines left out',
      [
        ['', 'glue', '1', 'kg'],
        ['', ''],
      ],
      [[3, '1', 'kg', '0', '']],
    ],
    [
      'what is not found keeps its word',
      [
        ['glue', '1'],
        ['NOPE', '3', 'pc'],
      ],
      [
        [3, '1', 'kg', '0', ''],
        ['NOPE', '3', 'piece', '0', ''],
      ],
    ],
  ])('%s', (_, cells, summary) => {
    expect(paste(cells)).toEqual(summary)
  })
  it('are looked up by the first cell that is filled', () => {
    expect(wordsOf([['', ' A '], ['B', 'C'], ['']])).toEqual(['A', 'B', ''])
  })
})

describe('the tower', () => {
  const structure = (() => {
    const { structure: built } = draw([
      { itemId: 2, quantity: '10', unit: 'piece' },
      { itemId: 3, quantity: '120', unit: 'g' },
    ])
    return built!
  })()
  const tower = (by: 'cost' | 'lead time' | 'mass') =>
    towerOf({
      structure,
      rootId: 1,
      rows: structure.costed(1, ratio(1), 'current').rows,
      quantity: 1,
      measured: by,
      units: UNITS,
      width: 400,
      money: (text) => text,
    })
  it('stands on courses; by cost blocks are to the scale of the whole, with work beside', () => {
    const { blocks, courses, own } = tower('cost')
    const blockOf = (code: string) => blocks.find((block) => block.code === code)!
    expect([courses, blockOf('BLOCK').course, blockOf('SHEET').course, own?.label]).toEqual([2, 1, 2, '2.00'])
    // Work is 2.00 of 3.86 of the width; glue, too small to grasp at scale, gets the least, and the block what is left
    // of its course.
    expect(blockOf('BLOCK').width).toBeCloseTo(400 - (2 / 3.86) * 400 - 4 - 4 - 22, 1)
    expect(blockOf('SHEET').width).toBeCloseTo((0.8 / 3.86) * 400 - 4, 1)
    expect([blockOf('SHEET').x, blockOf('GLUE').width]).toEqual([blockOf('BLOCK').x, 22])
  })
  it('by lead time each course is shared out', () => {
    const { blocks } = tower('lead time')
    expect([blocks.find((b) => b.code === 'SHEET')!.width, blocks.find((b) => b.code === 'SHEET')!.label]).toEqual([
      400,
      '9 days',
    ])
  })
  it('by mass it shows what weights are known', () => {
    expect(tower('mass').blocks.find((b) => b.code === 'GLUE')!.label).toBe('0.012 kg')
  })
  it.each<[string, number[], number, number, number[]]>([
    ['by weight', [3, 1], 100, 10, [75, 25]],
    ['none below the least', [99, 1], 100, 10, [90, 10]],
    ['evenly where nothing weighs', [0, 0], 100, 10, [50, 50]],
  ])('room is shared %s', (_, weights, room, least, widths) => {
    expect(shareRoom(weights, room, least)).toEqual(widths)
  })
  it('blocks stand where they ask to, as near as the others let them', () => {
    expect(
      lay(
        [
          { x: 0, width: 30 },
          { x: 10, width: 30 },
        ],
        200,
      ),
    ).toEqual([
      { x: 0, width: 30 },
      { x: 34, width: 30 },
    ])
    expect(
      lay(
        [
          { x: 150, width: 30 },
          { x: 150, width: 30 },
        ],
        200,
      ),
    ).toEqual([
      { x: 136, width: 30 },
      { x: 170, width: 30 },
    ])
    expect(
      lay(
        [
          { x: 0, width: 150 },
          { x: 0, width: 150 },
        ],
        204,
      ).map((entry) => entry.width),
    ).toEqual([100, 100])
  })
})

describe('steps back and forth', () => {
  it('go through what was kept; what comes after a step back is dropped by a change', () => {
    const form = ref({ a: 1 })
    const history = useHistory(form)
    for (const a of [2, 3]) {
      form.value = { a }
      history.keep()
    }
    expect([history.undo(), form.value.a, history.undo(), form.value.a, history.undo(), form.value.a]).toEqual([
      true,
      2,
      true,
      1,
      false,
      1,
    ])
    expect([history.redo(), form.value.a, history.canRedo.value]).toEqual([true, 2, true])
    form.value = { a: 9 }
    history.keep()
    expect([history.redo(), history.canUndo.value, history.undo(), form.value.a]).toEqual([false, true, true, 2])
    history.forget()
    expect([history.undo(), history.redo()]).toEqual([false, false])
  })
})

describe('parts', () => {
  it('are joined: of an item or a bill in both the later word counts', () => {
    const joined = joinParts(PARTS, {
      ...PARTS,
      items: [{ ...GLUE, cost: '6' }],
      bills: [{ ...PARTS.bills[0]!, revision: 2 }],
      lines: [line(2, 4, '10')],
    })
    expect([joined.items.find((item) => item.id === 3)!.cost, joined.lines, joined.bills]).toEqual([
      '6',
      [line(2, 4, '10')],
      [{ ...PARTS.bills[0], revision: 2 }],
    ])
  })
  const offer = (more: Partial<Offer>): Offer => ({
    supplier: 'S',
    unit: 'piece',
    holds: '1',
    price: '2',
    minimum: '0',
    multiple: '0',
    tiers: [],
    leadDays: 1,
    ...more,
  })
  it.each<[string, Offer[], string, string | null]>([
    ['the plain price', [offer({})], '5', '2'],
    [
      'a tier from 10',
      [offer({ tiers: [{ fromQuantity: '10', fromOn: null, untilOn: null, price: '1.5' }] })],
      '10',
      '1.5',
    ],
    [
      'the minimum reaches the tier',
      [offer({ minimum: '12', tiers: [{ fromQuantity: '10', fromOn: null, untilOn: null, price: '1.5' }] })],
      '1',
      '1.5',
    ],
    [
      'up to the multiple',
      [offer({ multiple: '25', tiers: [{ fromQuantity: '50', fromOn: null, untilOn: null, price: '1' }] })],
      '26',
      '1',
    ],
    ['the cheaper of two, by the stock unit', [offer({}), offer({ holds: '12', price: '18' })], '1', '1.5'],
    ['nobody', [], '1', null],
    [
      'a tier that is over',
      [offer({ tiers: [{ fromQuantity: '0', fromOn: null, untilOn: '2026-01-01', price: '1' }] })],
      '5',
      '2',
    ],
  ])('the best offer: %s', (_, offers, quantity, price) => {
    const best = bestOffer(offers, ratio(quantity), '2026-10-05')
    expect(best && toText(best)).toBe(price)
  })
  it('what is broken down costs its share of the bulk: 2 of 3 parts of 30 for 4', () => {
    const built = PartStructure.of({
      ...PARTS,
      items: [BOOK, part(6, 'BULK', { cost: '30' }), part(7, 'STRIP'), part(8, 'REST')],
      lines: [line(1, 7, '1')],
      breakDowns: [
        {
          bulk: 6,
          take: '1',
          outputs: [
            { item: 7, quantity: '4', share: '2' },
            { item: 8, quantity: '10', share: '1' },
          ],
        },
      ],
    })
    expect(built.ok && toText(built.value.costed(1, ratio(1), 'current').total)).toBe('5')
  })
  it('what has no price is named', () => {
    const { structure } = draw(
      [{ itemId: 2, quantity: '10', unit: 'piece' }],
      {},
      { ...PARTS, items: [BOOK, BLOCK, { ...SHEET, cost: null }] },
    )
    expect(structure!.costed(1, ratio(1), 'standard').unpriced).toEqual([4])
  })
})

describe('a way of breaking down', () => {
  const drum = { id: 1, stockUnit: 'drum', finestStep: '1', relations: [{ unit: 'drum', per: '200', ofUnit: 'kg' }] }
  const tub = { id: 2, stockUnit: 'tub', finestStep: '0.001', relations: [{ unit: 'tub', per: '1', ofUnit: 'kg' }] }
  const units = [
    ...UNITS,
    ...['drum', 'tub']
      .filter((code) => !UNITS.some((unit) => unit.code === code))
      .map(
        (code) =>
          ({
            ...UNITS[0]!,
            code,
            name: code,
            plural: code,
            symbol: code,
            dimension: 'pack',
            numerator: null,
            denominator: null,
          }) as UnitRow,
      ),
  ]
  const summary = (change: Partial<RecipeForm>) =>
    balanceOfRecipe(
      { ...blankRecipe(drum, 1), outputs: [{ itemId: 2, quantity: '198', unit: 'tub', share: '1' }], ...change },
      measureOfItem(units, drum),
      () => measureOfItem(units, tub),
      '.',
      (unit) => unit,
    )?.summary
  it('says what is not accounted for, what is too much, and that it balances', () => {
    expect([
      summary({}),
      summary({ loss: '2 kg', lossUnit: 'kg' }),
      summary({ outputs: [{ itemId: 2, quantity: '201', unit: 'tub', share: '1' }] }),
      summary({ outputs: [] }),
    ]).toEqual([
      '200 kg goes in, 198 kg comes out: 2 kg is not accounted for.',
      'It balances: 200 kg goes in, 198 kg comes out, 2 kg is lost.',
      '200 kg goes in, 201 kg comes out: 1 kg more comes out than goes in.',
      undefined,
    ])
  })
  it('is sent without a loss of nothing and without outputs that are only begun', () => {
    const sent = recipeOf(
      {
        ...blankRecipe(drum, 1),
        outputs: [
          { itemId: null, quantity: '', unit: 'piece', share: '1' },
          { itemId: 2, quantity: '2*100', unit: 'tub', share: '' },
        ],
      },
      measureOfItem(units, drum),
      () => measureOfItem(units, tub),
      '.',
    )
    expect(sent).toMatchObject({
      take: '1',
      loss: '0',
      lossUnit: null,
      outputs: [{ itemId: 2, quantity: '200', share: '1' }],
    })
  })
})
