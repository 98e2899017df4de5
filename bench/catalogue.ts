import { sql } from 'drizzle-orm'
import { db, pool, rows } from '~~/server/database/client'
import { find } from '~~/server/services/catalogue/find'
import { listItems } from '~~/server/services/catalogue/items'
import { applyImport, openImport } from '~~/server/services/catalogue/tables/batches'
import { exportCatalogue } from '~~/server/services/catalogue/tables/write-file'
import { inTransaction } from '~~/server/database/transactions'
import { prepareDatabase } from '~~/server/services/company/prepare'
import { ItemQuery } from '~~/shared/catalogue/requests'
import { best, type Figure } from './figure'

const ITEMS = 20_000
const ALL = 50_000
const FAMILIES = ['Board', 'Paper', 'Cloth', 'Thread', 'Glue', 'Ribbon', 'Foil', 'Needle', 'Brush', 'Carton']
const COLOURS = ['navy', 'red', 'grey', 'ochre', 'moss', 'indigo', 'ivory', 'black', 'sand', 'copper']

/** A catalogue of 20 000 items brought in by file, then 50 000 of them listed and searched. */
export async function* run(): AsyncGenerator<Figure> {
  await prepareDatabase('demo')
  const actor = { userId: 1, name: 'Bench', role: 'owner' as const, today: '2026-10-05' }
  const lines = Array.from(
    { length: ITEMS },
    (_, i) =>
      `BENCH-${String(i).padStart(6, '0')},${FAMILIES[i % 10]} ${COLOURS[Math.floor(i / 10) % 10]} no. ${i},TOOLS,active,bought,piece,piece,piece,1,${i % 9},${((i % 90) / 10).toFixed(2)},made up`,
  )
  const text = `code,name,group,status,source,stock_unit,buying_unit,selling_unit,finest_step,safety_stock,price,note\n${lines.join('\n')}\n`
  let batch = 0
  const tried = await best(1, async () => {
    batch = (
      await openImport(actor, { table: 'items', fileName: 'bench.csv', content: Buffer.from(text).toString('base64') })
    ).id
  })
  const taken = await best(1, async () => {
    await inTransaction((tx) => applyImport(tx, actor, batch))
  })
  await pool.query('create table bench_items (code text, name text, note text)')
  const plain = await best(1, async () => {
    for (let index = 0; index < ITEMS; index += 1000) {
      await pool.query(
        `insert into bench_items select * from jsonb_to_recordset($1) as r(code text, name text, note text)`,
        [
          JSON.stringify(
            lines.slice(index, index + 1000).map((line) => {
              const [code, name, , , , , , , , , , note] = line.split(',')
              return { code, name, note }
            }),
          ),
        ],
      )
    }
  })
  const out = await best(1, async () => {
    await exportCatalogue('items', 'csv')
  })
  await pool.query(`insert into items (code, name, group_id, stock_unit, buying_unit, selling_unit, making_unit, finest_step)
    select 'MORE-' || lpad(n::text, 6, '0'), 'Further item number ' || n, (select min(id) from item_groups), 'piece', 'piece', 'piece', 'piece', 1 from generate_series(1, ${ALL - ITEMS}) n`)
  await pool.query('analyze')
  const page = await best(5, async () => {
    await listItems(ItemQuery.parse({ status: 'active' }))
  })
  const filtered = await best(5, async () => {
    await listItems(ItemQuery.parse({ status: 'active', search: 'indigo' }))
  })
  const deep = await best(5, async () => {
    await listItems(ItemQuery.parse({ status: 'active', page: 300, size: 100 }))
  })
  const questions = [
    'BENCH-013579',
    'ribon indgo',
    'carton ochre no. 19999',
    'clot grye',
    'further itm number 29123',
    '9520000000011',
  ]
  const times: number[] = []
  for (const question of questions) {
    times.push(
      await best(3, async () => {
        await find(question)
      }),
    )
  }
  const worst = Math.max(...times)
  const yardstick = await best(5, async () => {
    await rows(db, sql`select code, name from items order by code limit 50`)
  })
  await pool.end()
  yield* [
    {
      bench: 'catalogue',
      figure: `dry run of a file of ${ITEMS} items`,
      value: tried / 1000,
      unit: 's',
      comparedWith: 'the 60 s that an import may take',
      ratio: tried / 60_000,
    },
    {
      bench: 'catalogue',
      figure: `import of ${ITEMS} items`,
      value: taken / 1000,
      unit: 's',
      comparedWith: `bare inserts of three columns in blocks of 1 000 (${(plain / 1000).toFixed(2)} s)`,
      ratio: taken / plain,
    },
    {
      bench: 'catalogue',
      figure: `export of ${ITEMS} items as CSV`,
      value: out / 1000,
      unit: 's',
      comparedWith: 'their import',
      ratio: out / taken,
    },
    {
      bench: 'catalogue',
      figure: `first page of ${ALL} items`,
      value: page,
      unit: 'ms',
      comparedWith: `50 bare rows (${yardstick.toFixed(1)} ms)`,
      ratio: page / yardstick,
    },
    {
      bench: 'catalogue',
      figure: 'first page of a filter',
      value: filtered,
      unit: 'ms',
      comparedWith: 'the first page of all',
      ratio: filtered / page,
    },
    {
      bench: 'catalogue',
      figure: 'page 300 of 100 rows',
      value: deep,
      unit: 'ms',
      comparedWith: 'the first page of all',
      ratio: deep / page,
    },
    {
      bench: 'catalogue',
      figure: `find in ${ALL} items, the slowest of ${questions.length} questions`,
      value: worst,
      unit: 'ms',
      comparedWith: 'the 100 ms that it may take',
      ratio: worst / 100,
    },
  ]
}
