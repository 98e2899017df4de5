import { readFileSync, readdirSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { inTransaction } from '~~/server/database/transactions'
import { stockValue } from '~~/server/services/books/value'
import { applyImport, openImport } from '~~/server/services/catalogue/tables/batches'
import { IMPORTS } from '~~/shared/catalogue/words'
import { owner, withDemo } from './database'

withDemo()

const nameOf = (table: string): string => `${table}.${table === 'structures' ? 'json' : 'csv'}`

describe('the sample files, one after the other as their list stands', () => {
  it('there is one for each import, and no other', () => {
    expect(readdirSync('public/samples').sort()).toEqual(IMPORTS.map(nameOf).sort())
  })
  it.each(IMPORTS)('%s is taken in without a fault', async (table) => {
    const content = readFileSync(`public/samples/${nameOf(table)}`).toString('base64')
    const preview = await openImport(owner, { table, fileName: nameOf(table), content })
    expect(preview.faults).toEqual([])
    expect(preview.rows).toBeGreaterThan(0)
    // The indented bill says the same as the bill's lines before it.
    if (preview.made + preview.changed > 0) {
      await inTransaction((tx) => applyImport(tx, owner, preview.id))
    }
  })
  it('make a firm that stocks, sells and plans candles', async () => {
    // 37.5 kg of wax at 4.40, 120 jars at 0.95, 30 candles at 7.20: in cents.
    const lines = await stockValue('item', null)
    const worth = new Map(lines.map((line) => [line.code, Number(line.value)]))
    expect(['SOY-WAX', 'JAR-180', 'CANDLE-180'].map((code) => worth.get(code))).toEqual([16_500, 11_400, 21_600])
  })
})
