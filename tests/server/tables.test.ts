import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { loadDefinition } from '~~/server/services/catalogue/definitions'
import { itemIds, listItems } from '~~/server/services/catalogue/items'
import { listDefinitions, loadReferences, type ListKind } from '~~/server/services/catalogue/references'
import { applyImport, openImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { ItemQuery } from '~~/shared/catalogue/requests'
import type { DefinitionKind } from '~~/shared/catalogue/words'
import { TABLES, type TableName } from '~~/shared/catalogue/words'
import { idOf, owner, withDemo } from './database'

withDemo()

const idByKey = async (kind: DefinitionKind, key: string): Promise<number> => {
  const [table, column] = (
    {
      items: ['items', 'code'],
      units: ['units', 'code'],
      groups: ['item_groups', 'code'],
      suppliers: ['suppliers', 'code'],
      customers: ['customers', 'code'],
      routes: ['routes', 'code'],
      'price-lists': ['price_lists', 'code'],
      sites: ['sites', 'code'],
      bins: ['places', 'code'],
      calendars: ['calendars', 'name'],
      currencies: ['currencies', 'code'],
      bills: ['boms', 'name'],
      'break-downs': ['recipes', 'name'],
    } as const
  )[kind]
  return (
    await rows<{ id: number }>(
      db,
      sql`select id from ${sql.identifier(table)} where ${sql.identifier(column)} = ${key}`,
    )
  )[0]!.id
}

/** Takes a file in, and answers what is stored of what it names. */
async function takeIn(table: TableName, text: string, kind: DefinitionKind, key: string) {
  const preview = await openImport(owner, {
    table,
    fileName: `${table}.csv`,
    content: Buffer.from(text).toString('base64'),
  })
  expect(preview.faults).toEqual([])
  await inTransaction((tx) => applyImport(tx, owner, preview.id))
  return {
    batch: preview.id,
    stored: (await loadDefinition(db, kind, await idByKey(kind, key))) as unknown as Record<string, unknown>,
  }
}

interface Case {
  readonly table: TableName
  readonly kind: DefinitionKind
  readonly key: string
  readonly file: string
  readonly sentence: Record<string, unknown>
}

const span = { fromOn: null, untilOn: null }
const CASES: readonly Case[] = [
  {
    table: 'currencies',
    kind: 'currencies',
    key: 'CHF',
    file: 'code,name\nCHF,Swiss franc\n',
    sentence: { name: 'Swiss franc', rates: [], retired: false },
  },
  {
    table: 'exchange-rates',
    kind: 'currencies',
    key: 'USD',
    file: 'currency,from on,rate\nUSD,1.10.2026,0.87\n',
    sentence: {
      rates: [
        { fromOn: '2026-01-01', rate: '0.86' },
        { fromOn: '2026-07-01', rate: '0.88' },
        { fromOn: '2026-10-01', rate: '0.87' },
      ],
    },
  },
  {
    table: 'calendars',
    kind: 'calendars',
    key: 'Saturdays too',
    file: 'name,weekdays\nSaturdays too,Mon Tue Wed Thu Fri Sat\n',
    sentence: { weekdays: [true, true, true, true, true, true, false], closed: [] },
  },
  {
    table: 'sites',
    kind: 'sites',
    key: 'BARN',
    file: 'code,name,calendar,outside,address\nBARN,Old barn,Bindery week,x,Behind the mill\n',
    sentence: { name: 'Old barn', outside: true, address: 'Behind the mill' },
  },
  {
    table: 'bins',
    kind: 'bins',
    key: 'LOFT',
    file: 'code,name,site,pick order,quarantine\nLOFT,Loft,store,15,yes\n',
    sentence: { pickOrder: 15, quarantine: true, closedToPicking: true, closedToReceiving: false },
  },
  {
    table: 'routes',
    kind: 'routes',
    key: 'BOAT',
    file: 'code,name,from site,to site,days\nBOAT,By boat,PARKSIDE,WORKSHOP,3\n',
    sentence: { name: 'By boat', days: 3, retired: false },
  },
  {
    table: 'units',
    kind: 'units',
    key: 'quire',
    file: 'code,name,plural,symbol,dimension,reference units,decimals\nquire,quire,quires,quire,count,25,1\n',
    sentence: { per: '25', dimension: 'count', decimals: 1 },
  },
  {
    table: 'groups',
    kind: 'groups',
    key: 'INKS',
    file: 'code,name,parent,stock_unit,lead_days\nINKS,Inks,MATERIALS,litres,3\nINKS-RED,Red inks,INKS,,\n',
    sentence: { defaults: { stockUnit: 'L', leadDays: 3 }, traits: [] },
  },
  {
    table: 'traits',
    kind: 'groups',
    key: 'BOARD',
    file: 'group,name,kind,unit\nBOARD,calliper,number,mm\n',
    sentence: { traits: [{ name: 'calliper', kind: 'number', unit: 'mm', choices: '' }] },
  },
  {
    table: 'suppliers',
    kind: 'suppliers',
    key: 'SEALAND',
    file: 'code,name,phone\nSEALAND,Sealand Adhesives Ltd,+00 1\n',
    sentence: {
      name: 'Sealand Adhesives Ltd',
      phone: '+00 1',
      email: 'orders@sealand.example',
      paymentTerms: '30 days net',
    },
  },
  {
    table: 'price-lists',
    kind: 'price-lists',
    key: 'FRIENDS',
    file: 'code,name,note\nFRIENDS,Friends,At cost\n',
    sentence: { name: 'Friends', note: 'At cost' },
  },
  {
    table: 'customers',
    kind: 'customers',
    key: 'LARK',
    file: 'code,name,served from\nLARK,Larkhill Books,STORE\n',
    sentence: { email: 'orders@lark.example', addresses: [{ name: 'Second shop', address: '3 Bridge Street, Orrin' }] },
  },
  {
    table: 'customer-addresses',
    kind: 'customers',
    key: 'QUILL',
    file: 'customer,name,address\nQUILL,Quay,Berth 4\nQUILL,Stall,Market 9\n',
    sentence: {
      addresses: [
        { name: 'Quay', address: 'Berth 4' },
        { name: 'Stall', address: 'Market 9' },
      ],
    },
  },
  {
    table: 'items',
    kind: 'items',
    key: 'WAX',
    file: 'code,name,group,safety stock,maximum stock,kind\nWAX,"Beeswax, large",TOOLS,6,"1,200",\n',
    sentence: {
      name: 'Beeswax, large',
      safetyStock: '6',
      maximumStock: '1200',
      kind: 'stocked',
      price: '2.80',
      inherited: ['stockUnit', 'finestStep'],
    },
  },
  {
    table: 'item-units',
    kind: 'items',
    key: 'WAX',
    file: 'item,unit,holds,of\nWAX,cartons,48,pieces\n',
    sentence: { relations: [{ unit: 'carton', per: '48', ofUnit: 'piece' }] },
  },
  {
    table: 'item-codes',
    kind: 'items',
    key: 'AWL',
    file: 'item,code,kind,unit,whose\nAWL,AHLE-1,code,,Tully\n',
    sentence: {
      codes: [
        { code: '9520000000134', kind: 'barcode', unit: 'piece', whose: 'own' },
        { code: 'AHLE-1', kind: 'code', unit: null, whose: 'Tully' },
      ],
    },
  },
  {
    table: 'supplier-terms',
    kind: 'items',
    key: 'KNIFE',
    file: 'item,supplier,unit,price,lead days,minimum\nKNIFE,TULLY,piece,2.75,4,20\n',
    sentence: {
      terms: [
        expect.objectContaining({
          price: '2.75',
          leadDays: 4,
          minimum: '20',
          multiple: '10',
          supplierCode: 'KN-1',
          rank: 1,
        }),
      ],
    },
  },
  {
    table: 'price-tiers',
    kind: 'items',
    key: 'NEEDLE',
    file: 'item,supplier,from quantity,price,valid from\nNEEDLE,TULLY,40,5.10,2026-11-01\n',
    sentence: {
      terms: [
        expect.objectContaining({
          tiers: [
            { fromQuantity: '10', ...span, price: '5.60' },
            { fromQuantity: '40', fromOn: '2026-11-01', untilOn: null, price: '5.10' },
          ],
        }),
      ],
    },
  },
  {
    table: 'prices',
    kind: 'items',
    key: 'WAX',
    file: 'item,unit,price,from quantity\nWAX,piece,2.50,10\n',
    sentence: {
      prices: [{ priceListId: null, customerId: null, unit: 'piece', fromQuantity: '10', ...span, price: '2.50' }],
    },
  },
  {
    table: 'stock-marks',
    kind: 'items',
    key: 'AWL',
    file: 'item,site,safety stock\nAWL,STORE,2\n',
    sentence: {
      marks: [expect.objectContaining({ ...span, yearly: false, safetyStock: '2', reorderPoint: null })],
    },
  },
  {
    table: 'substitutes',
    kind: 'items',
    key: 'KNIFE',
    file: 'item,substitute,ratio,both ways\nKNIFE,AWL,1/2,yes\n',
    sentence: { substitutes: [expect.objectContaining({ per: '0.5', rank: 1, bothWays: true })] },
  },
  {
    table: 'links',
    kind: 'items',
    key: 'WAX',
    file: 'item,url,title\nWAX,https://wax.example/sheet,Sheet\n',
    sentence: { links: [{ title: 'Sheet', url: 'https://wax.example/sheet' }] },
  },
  {
    table: 'closed-days',
    kind: 'calendars',
    key: 'Arden mill',
    file: 'calendar,day,note\nArden mill,2026-12-23,Inventory\n',
    sentence: { name: 'Arden mill' },
  },
  {
    table: 'bills',
    kind: 'bills',
    key: 'BLANK-A4 revision 1',
    file: 'item,batch,unit,work minutes,in use from\nBLANK-A4,12,pieces,30,\n',
    sentence: { revision: 1, batchSize: '12', batchUnit: 'piece', workMinutes: '30', fromOn: null, lines: [] },
  },
  {
    table: 'bill-lines',
    kind: 'bills',
    key: 'NB-A5-NAVY revision 2',
    file: 'item,component,quantity,unit,scrap percent,phantom\nNB-A5-NAVY,END-PLAIN,1/4,sheets,2.5,yes\nnb-a5-navy,GLUE-TUB,25,g,,\n',
    sentence: {
      fromOn: null,
      lines: [
        expect.objectContaining({ position: 1 }),
        expect.objectContaining({ position: 2 }),
        expect.objectContaining({ position: 3 }),
        expect.objectContaining({ position: 4, quantity: '25', unit: 'g', scrapPercent: '0' }),
        expect.objectContaining({ position: 5, quantity: '0.25', unit: 'sheet', scrapPercent: '2.5', phantom: true }),
      ],
    },
  },
  {
    table: 'bill-substitutes',
    kind: 'bills',
    key: 'NB-A5-RED revision 2',
    file: 'item,component,substitute,ratio\nNB-A5-RED,RIBBON-RED,RIBBON-NAVY,3/2\n',
    sentence: {
      lines: expect.arrayContaining([
        expect.objectContaining({ substitutes: [{ itemId: expect.any(Number), rank: 1, per: '1.5' }] }),
      ]),
    },
  },
  {
    table: 'by-products',
    kind: 'bills',
    key: 'GB-A5 revision 2',
    file: 'item,by product,quantity,unit,share percent\nGB-A5,NOTE-CARD,30,pc,2.5\n',
    sentence: { byProducts: [{ itemId: expect.any(Number), quantity: '30', unit: 'piece', sharePercent: '2.5' }] },
  },
  {
    table: 'bill-steps',
    kind: 'bills',
    key: 'TRIO revision 2',
    file: 'item,position,text\nTRIO,2,Close the box\nTRIO,1,Fold the tissue\n',
    sentence: {
      steps: [
        { position: 1, text: 'Fold the tissue', pictureId: null },
        { position: 2, text: 'Close the box', pictureId: null },
      ],
    },
  },
  {
    table: 'break-downs',
    kind: 'break-downs',
    key: 'BOARD-1 break-down 1',
    file: 'item,take,unit,output,gives,output unit,share,loss,loss unit,on arrival\nBOARD-1,1,sheet,BLANK-A5,12,piece,2,,,yes\nBOARD-1,1,sheet,SPINE-A5,6,piece,1,,,yes\n',
    sentence: {
      rank: 1,
      take: '1',
      onArrival: true,
      outputs: [
        expect.objectContaining({ quantity: '12', share: '2' }),
        expect.objectContaining({ quantity: '6', share: '1' }),
      ],
    },
  },
]

describe('each table fills what it says it fills', () => {
  it('none is left out', () => {
    expect(CASES.map((entry) => entry.table).sort()).toEqual([...TABLES].sort())
  })
  it.each(CASES)('$table', async ({ table, kind, key, file, sentence }) => {
    const { batch, stored } = await takeIn(table, file, kind, key)
    expect(stored).toMatchObject(sentence)
    // Brought in again it changes nothing; taken back, it is gone.
    const again = await openImport(owner, {
      table,
      fileName: 'again.csv',
      content: Buffer.from(file).toString('base64'),
    })
    expect([again.faults, again.made, again.changed]).toEqual([[], 0, 0])
    await inTransaction((tx) => takeBack(tx, owner, batch))
    const after = await openImport(owner, {
      table,
      fileName: 'after.csv',
      content: Buffer.from(file).toString('base64'),
    })
    expect(after.made + after.changed).toBeGreaterThan(0)
  })
})

describe('lists at a glance', () => {
  const LISTS: readonly (readonly [ListKind, string, Partial<{ summary: string; used: number }>])[] = [
    ['suppliers', 'GLINT', { summary: 'info@glint.example · +00 555 0106 · GBP', used: 3 }],
    ['customers', 'LARK', { summary: '12 Larkhill, Marbury · orders@lark.example · Shops', used: 3 }],
    ['price-lists', 'FAIRS', { summary: 'What stands on the stall · 1 customers', used: 2 }],
    ['sites', 'PARKSIDE', { summary: 'outside warehouse · Park Road 40, Brackwater', used: 1 }],
    ['bins', 'QUAR', { summary: 'Workshop · pick order 99 · closed to picking · quarantine', used: 1 }],
    ['currencies', 'GBP', { summary: '1 GBP = 1.16 since 2026-10-01', used: 1 }],
    ['units', 'ream', { summary: 'count' }],
    ['groups', 'LEATHER', { summary: 'HIDE-##', used: 2 }],
  ]
  it.each(LISTS)('%s', async (kind, code, row) => {
    expect((await listDefinitions(kind)).find((definition) => definition.code === code)).toMatchObject(row)
  })
  it('calendars have no code but their name', async () => {
    expect((await listDefinitions('calendars')).find((definition) => definition.name === 'Arden mill')).toMatchObject({
      code: '',
      summary: '10 closed days',
      used: 1,
    })
  })
  it('what fields choose from knows what groups hand down', async () => {
    const { groups, suppliers, currencies } = await loadReferences()
    expect(groups.find((group) => group.code === 'ALBUMS')!.summary).toMatchObject({
      source: 'made',
      stockUnit: 'piece',
      tracking: 'lot',
      leadDays: 2,
    })
    expect(currencies.find((c) => c.id === suppliers.find((s) => s.code === 'GLINT')!.currencyId)!.code).toBe('GBP')
  })
})

describe('the list of items', () => {
  const codes = async (query: object) => (await listItems(ItemQuery.parse(query))).rows.map((row) => row.code)
  it('by supplier, by kind, by any of its codes', async () => {
    expect(await codes({ supplier: await idOf('suppliers', 'GLINT') })).toEqual([
      'FOIL-COPPER',
      'FOIL-GOLD',
      'FOIL-SILVER',
    ])
    expect(await codes({ kind: 'service' })).toEqual(['DIE', 'REPAIR', 'TITLE'])
    expect(await codes({ search: '9520000000134' })).toEqual(['AWL'])
  })
  it.each([
    ['name', 'Album box, 32 × 32 cm'],
    ['-name', 'Wheat paste powder'],
    ['-onHand', 'Quire A5, 16 pages'],
  ])('sorted by %s begins with %s', async (sort, first) => {
    const [row] = (await listItems(ItemQuery.parse({ sort, search: '', size: 3 }))).rows
    expect(sort === '-onHand' ? Number(row!.onHand) >= 600 : row!.name === first).toBe(true)
  })
  it('tells supplier, their code, price and barcode', async () => {
    expect((await listItems(ItemQuery.parse({ search: 'NEEDLE' }))).rows[0]).toMatchObject({
      supplier: 'Tully Threads and Tools',
      supplierCode: 'ND-5',
      price: '0.60',
      sellingSymbol: 'pc',
      barcode: '9520000000158',
    })
  })
  it('all ids that a filter finds, in the order of the list', async () => {
    const query = ItemQuery.parse({ search: 'ribbon marker' })
    expect(await itemIds(query)).toEqual((await listItems(query)).rows.map((row) => row.id))
  })
})
