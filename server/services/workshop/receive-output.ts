import { sql } from 'drizzle-orm'
import { convert } from '~~/core/units/graph'
import { ONE, ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadMeasuredItems, readIfGiven, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import type { DraftMove, End } from '../../ledger/post'
import type { BomHead } from '../structure/bind-structure'
import type { Build } from './build-status'
import type { RecordEdit } from './record-build'

export interface Output {
  readonly moves: readonly DraftMove[]
  readonly lot: string | null
}
interface Coming {
  readonly build: Build
  readonly head: BomHead
  readonly item: MeasuredItem
  readonly made: Ratio
  readonly fraction: Ratio
  readonly workshop: End
  readonly to: End
  /** Where by-products go: they are not inspected with the goods. */
  readonly toBeside: End
}

/**
 * What comes out of a part of a build: the goods under their lot, piece by piece where they are kept so, and
 * by-products with their share of the value.
 */
export async function receiveOutput(
  tx: Tx,
  actor: Actor,
  coming: Coming,
  edit: RecordEdit,
  day: string,
): Promise<Output> {
  const { build, item: item, made, fraction, workshop, to: target, toBeside } = coming
  const lot = item.tracking === 'lot' && edit.lot === '' ? build.number : edit.lot
  const lotId = await lotToEnter(tx, item, lot, { expiresOn: edit.expiresOn, madeOn: day }, 'lot')
  const beside = await byProducts(tx, coming, edit)
  const own = ONE.sub(beside.reduce((sum, entry) => sum.add(entry.share), ZERO))
  const moves: DraftMove[] = []
  for (const [index, piece] of (item.tracking === 'piece'
    ? measuresOf(item, edit, made)
    : [{ quantity: made, label: '' }]
  ).entries()) {
    const pieceId = await pieceToEnter(
      tx,
      item,
      { label: piece.label, lotId, measure: asNumeric(piece.quantity) },
      `pieces.${index}.label`,
    )
    moves.push({
      itemId: item.id,
      lotId,
      pieceId,
      quantity: piece.quantity,
      from: workshop,
      to: target,
      entered: toText(piece.quantity),
      unit: item.stockUnit,
      residue: ZERO,
      valuation: { kind: 'part', weight: fraction.mul(own).mul(piece.quantity).div(made) },
    })
  }
  for (const entry of beside) {
    const besideLot = await lotToEnter(
      tx,
      entry.item,
      entry.item.tracking === 'lot' ? build.number : '',
      { expiresOn: null, madeOn: day },
      'byProducts',
    )
    const pieceId = await pieceToEnter(
      tx,
      entry.item,
      { label: '', lotId: besideLot, measure: asNumeric(entry.quantity) },
      'byProducts',
    )
    moves.push({
      itemId: entry.item.id,
      lotId: besideLot,
      pieceId,
      quantity: entry.quantity,
      from: workshop,
      to: toBeside,
      entered: entry.entered,
      unit: entry.unit,
      residue: ZERO,
      valuation: { kind: 'part', weight: fraction.mul(entry.share) },
    })
  }
  return { moves, lot: lotId === null ? null : lot }
}

/** The pieces that came out; together they are what was made. One where nothing is said. */
function measuresOf(item: MeasuredItem, edit: RecordEdit, made: Ratio): { quantity: Ratio; label: string }[] {
  if (edit.pieces.length === 0) {
    return [{ quantity: made, label: '' }]
  }
  const pieces = edit.pieces.map((piece, index) => ({
    quantity: readQuantity(item, piece.quantity, edit.unit, `pieces.${index}.quantity`).quantity,
    label: piece.label,
  }))
  const sum = pieces.reduce((total, piece) => total.add(piece.quantity), ZERO)
  if (!sum.equals(made)) {
    throw new Refusal(
      'invalid-input',
      `The pieces measure ${toText(sum)} ${item.symbol} together, not ${toText(made)} ${item.symbol}.`,
      { [`pieces.${pieces.length - 1}.quantity`]: `Together they measure ${toText(sum)} ${item.symbol}.` },
    )
  }
  return pieces
}

export interface BillByProduct {
  readonly item: MeasuredItem
  readonly unit: string
  readonly each: Ratio
  readonly share: Ratio
}

/** What else a revision gives: for one good stock unit, in the by-product's stock unit. */
export async function byProductsOf(reader: Reader, bomId: number, head: BomHead): Promise<BillByProduct[]> {
  const said = await rows<{ itemId: number; numerator: string; denominator: string; unit: string; share: string }>(
    reader,
    sql`
      select item_id as "itemId", numerator, denominator, unit, share
      from bom_by_products
      where bom_id = ${bomId}
      order by id`,
  )
  const items = await loadMeasuredItems(
    reader,
    said.map((row) => row.itemId),
  )
  return said.flatMap((row): BillByProduct[] => {
    const item = items.get(row.itemId)!
    const batch = convert(
      item.measure.graph,
      ratio(row.numerator).div(ratio(row.denominator)),
      row.unit,
      item.stockUnit,
    )
    return batch.ok
      ? [
          {
            item: item,
            unit: row.unit,
            each: batch.value.div(head.batch).div(head.outputYield),
            share: ratio(row.share),
          },
        ]
      : []
  })
}

/**
 * By-products as they were typed, else as the bill says; what did not come leaves its share of the value to the rest.
 */
async function byProducts(
  tx: Tx,
  { build, head, made }: Coming,
  edit: RecordEdit,
): Promise<{ item: MeasuredItem; quantity: Ratio; share: Ratio; entered: string; unit: string }[]> {
  return (await byProductsOf(tx, build.bomId, head)).flatMap(({ item: item, each, share }) => {
    const index = edit.byProducts.findIndex((byProduct) => byProduct.itemId === item.id)
    const typed = edit.byProducts[index]
    if (typed) {
      const read = readIfGiven(item, typed.quantity, typed.unit, `byProducts.${index}.quantity`)
      return read ? [{ item, quantity: read.quantity, share, entered: read.entered, unit: read.unit }] : []
    }
    const { quantity } = toSteps(each.mul(made), item.measure.finestStep, 'recorded')
    return quantity.equals(ZERO)
      ? []
      : [{ item: item, quantity, share, entered: toText(quantity), unit: item.stockUnit }]
  })
}
