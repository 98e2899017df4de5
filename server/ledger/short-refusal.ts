import { sql } from 'drizzle-orm'
import type { LackedThen } from '~~/core/costing'
import { describeStockError, type StockError } from '~~/core/stock'
import { printAmount } from '~~/core/units/quantity'
import { ratio } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { loadMeasuredItem, loadMeasuredItems } from '../services/catalogue/measured-items'
import { poolOf } from './lock-stock'

/** Tells a refused posting with the names of what is short and where else it lies. */
export async function shortRefusal(tx: Tx, error: StockError): Promise<Refusal> {
  if (error.code !== 'short') {
    return new Refusal(
      'invalid-input',
      describeStockError(error, {
        format: { decimalSign: '.', grouping: 'space' },
        item: (id) => id,
        unit: () => '',
        bin: (id) => id,
        lot: (id) => id,
        piece: (id) => id,
        elsewhere: () => '',
      }),
    )
  }
  const ids = [...new Set(error.lines.map((line) => Number(line.item)))]
  const items = await loadMeasuredItems(tx, ids)
  const names = await rows<{ kind: string; id: string; name: string }>(
    tx,
    sql`
      select 'bin' as kind, id::text, name
      from places
      union all
      select 'lot', id::text, number
      from lots
      where ${anyOf(sql`item_id`, ids)}
      union all
      select 'piece', id::text, label
      from pieces
      where ${anyOf(sql`item_id`, ids)}`,
  )
  const free = await rows<{
    item: string
    bin: string
    lot: string | null
    piece: string | null
    name: string
    free: string
  }>(
    tx,
    sql`
      select
        b.item_id::text as item, b.place_id::text as bin, b.lot_id::text as lot, b.piece_id::text as piece,
        p.name, b.on_hand - b.allocated as free
      from balances b
      join places p on p.id = b.place_id
      where b.status = 'available'
        and p.kind = 'bin'
        and b.on_hand > b.allocated
        and ${anyOf(sql`b.item_id`, ids)}`,
  )
  const nameOf = (kind: string, id: string): string => names.find((n) => n.kind === kind && n.id === id)?.name ?? id
  const itemOf = (item: string) => items.get(Number(item))!
  return new Refusal(
    'short',
    describeStockError(error, {
      format: itemOf(error.lines[0]!.item).writing,
      item: (id) => `${itemOf(id).code} ${itemOf(id).name}`,
      unit: (id) => itemOf(id).symbol,
      bin: (id) => nameOf('bin', id),
      lot: (id) => nameOf('lot', id),
      piece: (id) => nameOf('piece', id),
      elsewhere: (line) =>
        free
          .filter((f) => f.item === line.item && (f.bin !== line.bin || f.lot !== line.lot || f.piece !== line.piece))
          .map(
            (f) =>
              `${printAmount(ratio(f.free), 6, itemOf(line.item).writing)} ${itemOf(line.item).symbol} at ${f.name}${f.lot === null ? '' : `, lot ${nameOf('lot', f.lot)}`}${f.piece === null ? '' : `, piece ${nameOf('piece', f.piece)}`}`,
          )
          .join('; '),
    }),
  )
}

/** Tells that goods were not there yet on the day for which something is entered. */
export async function lackedThenRefusal(tx: Reader, error: LackedThen): Promise<Refusal> {
  const { item, site } = poolOf(error.pool)
  const measuredItem = await loadMeasuredItem(tx, item)
  const [place] = await rows<{ name: string }>(tx, sql`select name from sites where id = ${site}`)
  const detail = `${measuredItem.code} ${measuredItem.name}: on ${error.day} there were only ${printAmount(error.there, 6, measuredItem.writing)} ${measuredItem.symbol} at ${place?.name ?? 'hand'}, and ${printAmount(error.wanted, 6, measuredItem.writing)} ${measuredItem.symbol} would have left. Choose a later day, or enter first what came in before.`
  return new Refusal('short', detail, { effectiveOn: detail })
}
