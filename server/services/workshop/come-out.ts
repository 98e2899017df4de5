import { sql } from 'drizzle-orm'
import { convert, ONE, ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadFrames, readQuantity, type Frame } from '../catalogue/frames'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import type { DraftMove, End } from '../stock/post'
import type { BomHead } from '../structure/load-structure'
import type { Build } from './builds'
import type { RecordEdit } from './record-build'

export interface Output {
  readonly moves: readonly DraftMove[]
  readonly lot: string | null
}
interface Coming {
  readonly build: Build
  readonly head: BomHead
  readonly frame: Frame
  readonly made: Ratio
  readonly fraction: Ratio
  readonly workshop: End
  readonly to: End
}

/** What comes out of a part of a build: the goods under their lot, piece by piece where they are kept so, and by-products with their share of the value. */
export async function comeOut(tx: Tx, actor: Actor, coming: Coming, edit: RecordEdit, day: string): Promise<Output> {
  const { build, frame, made, fraction, workshop, to: target } = coming
  const lot = frame.tracking === 'lot' && edit.lot === '' ? build.number : edit.lot
  const lotId = await lotToEnter(tx, frame, lot, { expiresOn: edit.expiresOn, madeOn: day }, 'lot')
  const beside = await byProducts(tx, coming, edit)
  const own = ONE.sub(beside.reduce((sum, entry) => sum.add(entry.share), ZERO))
  const moves: DraftMove[] = []
  for (const [index, piece] of (frame.tracking === 'piece'
    ? measuresOf(frame, edit, made)
    : [{ quantity: made, label: '' }]
  ).entries()) {
    const pieceId = await pieceToEnter(
      tx,
      frame,
      { label: piece.label, lotId, measure: asNumeric(piece.quantity) },
      `pieces.${index}.label`,
    )
    moves.push({
      itemId: frame.id,
      lotId,
      pieceId,
      quantity: piece.quantity,
      from: workshop,
      to: target,
      entered: toText(piece.quantity),
      unit: frame.stockUnit,
      residue: ZERO,
      valuation: { kind: 'part', weight: fraction.mul(own).mul(piece.quantity).div(made) },
    })
  }
  for (const entry of beside) {
    const besideLot = await lotToEnter(
      tx,
      entry.frame,
      entry.frame.tracking === 'lot' ? build.number : '',
      { expiresOn: null, madeOn: day },
      'byProducts',
    )
    const pieceId = await pieceToEnter(
      tx,
      entry.frame,
      { label: '', lotId: besideLot, measure: asNumeric(entry.quantity) },
      'byProducts',
    )
    moves.push({
      itemId: entry.frame.id,
      lotId: besideLot,
      pieceId,
      quantity: entry.quantity,
      from: workshop,
      to: target,
      entered: entry.entered,
      unit: entry.unit,
      residue: ZERO,
      valuation: { kind: 'part', weight: fraction.mul(entry.share) },
    })
  }
  return { moves, lot: lotId === null ? null : lot }
}

/** The pieces that came out; together they are what was made. One where nothing is said. */
function measuresOf(frame: Frame, edit: RecordEdit, made: Ratio): { quantity: Ratio; label: string }[] {
  if (edit.pieces.length === 0) {
    return [{ quantity: made, label: '' }]
  }
  const pieces = edit.pieces.map((piece, index) => ({
    quantity: readQuantity(frame, piece.quantity, edit.unit, `pieces.${index}.quantity`).quantity,
    label: piece.label,
  }))
  const sum = pieces.reduce((total, piece) => total.add(piece.quantity), ZERO)
  if (!sum.equals(made)) {
    throw new Refusal(
      'invalid-input',
      `The pieces measure ${toText(sum)} ${frame.symbol} together, not ${toText(made)} ${frame.symbol}.`,
      { [`pieces.${pieces.length - 1}.quantity`]: `Together they measure ${toText(sum)} ${frame.symbol}.` },
    )
  }
  return pieces
}

export interface BillByProduct {
  readonly frame: Frame
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
  const frames = await loadFrames(
    reader,
    said.map((row) => row.itemId),
  )
  return said.flatMap((row): BillByProduct[] => {
    const frame = frames.get(row.itemId)!
    const batch = convert(
      frame.measure.graph,
      ratio(row.numerator).div(ratio(row.denominator)),
      row.unit,
      frame.stockUnit,
    )
    return batch.ok
      ? [{ frame, unit: row.unit, each: batch.value.div(head.batch).div(head.outputYield), share: ratio(row.share) }]
      : []
  })
}

/** By-products as they were typed, else as the bill says; what did not come leaves its share of the value to the rest. */
async function byProducts(
  tx: Tx,
  { build, head, made }: Coming,
  edit: RecordEdit,
): Promise<{ frame: Frame; quantity: Ratio; share: Ratio; entered: string; unit: string }[]> {
  return (await byProductsOf(tx, build.bomId, head)).flatMap(({ frame, each, share }) => {
    const index = edit.byProducts.findIndex((byProduct) => byProduct.itemId === frame.id)
    const typed = edit.byProducts[index]
    if (typed) {
      if (typed.quantity.trim() === '' || typed.quantity.trim() === '0') {
        return []
      }
      const read = readQuantity(frame, typed.quantity, typed.unit, `byProducts.${index}.quantity`)
      return [{ frame, quantity: read.quantity, share, entered: read.entered, unit: read.unit }]
    }
    const { quantity } = toSteps(each.mul(made), frame.measure.finestStep, 'recorded')
    return quantity.equals(ZERO) ? [] : [{ frame, quantity, share, entered: toText(quantity), unit: frame.stockUnit }]
  })
}
