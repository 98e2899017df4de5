import { sql } from 'drizzle-orm'
import { readGtin } from '~~/core/codes'
import { groupBy } from '~~/core/group-by'
import { pickOrder } from '~~/core/stock'
import { useForPart } from '~~/core/structure/lines'
import { convert } from '~~/core/units/graph'
import { printAmount } from '~~/core/units/quantity'
import { ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { anyOf, notReversed } from '~~/server/database/sql'
import type { BuildLineAnswer, ByProductAnswer, Choice, NeededComponent, Take } from '~~/shared/workshop/answers'

import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import type { StockedPickable } from '../stock/pickable'
import type { BomHead } from '../structure/bind-structure'
import { byProductsOf } from './receive-output'
import { pickableAt } from './allocate-build'
import { shortageRemedies } from './shortage-remedies'
import type { Head } from './read-build'

interface LineRow {
  readonly id: number
  readonly itemId: number
  readonly forItemId: number | null
  readonly forCode: string | null
  readonly need: string
  readonly used: string
  readonly covered: string
  readonly unit: string
  readonly unitSymbol: string
  readonly unitDecimals: number
  readonly byHand: boolean
  readonly scrapped: string
}

export async function loadLines(
  build: Head | Omit<Head, 'salesLineId' | 'forBuildId'>,
  isOpen: boolean,
  left: Ratio,
  today: string,
): Promise<BuildLineAnswer[]> {
  const lines = await rows<LineRow>(
    db,
    sql`
      select
        l.id, l.item_id as "itemId", case when l.for_item_id <> l.item_id then l.for_item_id end as "forItemId",
        case when l.for_item_id <> l.item_id then f.code end as "forCode", trim_scale(l.need)::text as need,
        trim_scale(l.used)::text as used, l.covered, l.unit, u.symbol as "unitSymbol",
        u.decimals as "unitDecimals", l.by_hand as "byHand",
        coalesce(
          (
            select trim_scale(sum(s.quantity))::text
            from build_scraps s
            where s.line_id = l.id and ${notReversed('s.posting_id')}
          ),
          '0'
        ) as scrapped
      from build_lines l
      join units u on u.code = l.unit
      left join items f on f.id = l.for_item_id
      where l.build_id = ${build.id}
      order by l.position`,
  )
  const itemIds = lines.map((line) => line.itemId)
  const items = await loadMeasuredItems(db, itemIds)
  const stock = await pickableAt(db, build.siteId, itemIds)
  const own = await rows<{ lineId: number; balanceId: number; quantity: string }>(
    db,
    sql`
      select a.build_line_id as "lineId", b.id as "balanceId", a.quantity
      from allocations a
      join build_lines l on l.id = a.build_line_id
      join balances b on b.item_id = a.item_id
        and b.place_id = a.place_id
        and b.lot_id is not distinct from a.lot_id
        and b.piece_id is not distinct from a.piece_id
        and b.status = 'available'
      where l.build_id = ${build.id}`,
  )
  const codes = groupBy(
    itemIds.length === 0
      ? []
      : (
          await rows<{ itemId: number; code: string }>(
            db,
            sql`select item_id as "itemId", code from item_codes where ${anyOf(sql`item_id`, itemIds)}`,
          )
        ).map((entry) => {
          const gtin = readGtin(entry.code)
          return { ...entry, code: gtin.ok ? gtin.value.gtin14 : entry.code }
        }),
    (entry) => entry.itemId,
  )
  const answers = lines.map((line): Omit<BuildLineAnswer, 'remedies'> & { readonly short: Ratio } => {
    const item = items.get(line.itemId)!
    const set = own.filter((entry) => entry.lineId === line.id)
    // Its own goods count as free to it.
    const goods = (stock.get(line.itemId) ?? []).map((entry) => ({
      ...entry,
      allocated: entry.allocated.sub(sumOf(set.filter((a) => a.balanceId === entry.balanceId))),
    }))
    const rest = ratio(line.need).compare(ratio(line.covered)) > 0 ? ratio(line.need).sub(ratio(line.covered)) : ZERO
    const next = left.equals(ZERO)
      ? ZERO
      : useForPart(
          { need: ratio(line.need), rest, finestStep: item.measure.finestStep },
          { quantity: ratio(build.quantity), left },
          left,
        )
    const choices = inOrder(goods, set)
      .filter((entry) => entry.status === 'available' && entry.onHand.compare(entry.allocated) > 0)
      .map((entry): Choice => ({
        onHand: toText(entry.onHand),
        byOrder:
          set.some((a) => a.balanceId === entry.balanceId) ||
          (!entry.closedToPicking && (entry.expiresOn === null || entry.expiresOn >= today)),
        balanceId: entry.balanceId,
        bin: entry.binName,
        lot: entry.lotNumber,
        piece: entry.pieceLabel,
        expiresOn: entry.expiresOn,
        free: toText(entry.onHand.sub(entry.allocated)),
        own: toText(sumOf(set.filter((a) => a.balanceId === entry.balanceId))),
      }))
    const preview = takesOf(item, next, choices)
    const inUnit = convert(item.measure.graph, ratio(line.need), item.stockUnit, line.unit)
    return {
      ...preview,
      stockUnit: item.stockUnit,
      finestStep: item.finestStep,
      codes: codes.get(line.itemId)?.map((code) => code.code) ?? [],
      id: line.id,
      forItemId: line.forItemId,
      forCode: line.forCode,
      tracking: item.tracking,
      byHand: line.byHand,
      need: line.need,
      rest: toText(rest),
      used: line.used,
      scrapped: line.scrapped,
      allocated: toText(sumOf(set)),
      next: toText(next),
      short: ratio(preview.missing),
      ...(inUnit.ok
        ? {
            unit: line.unit,
            unitSymbol: line.unitSymbol,
            inUnit: printAmount(inUnit.value, line.unitDecimals, item.writing),
          }
        : { unit: item.stockUnit, unitSymbol: item.symbol, inUnit: line.need }),
      choices: isOpen ? choices : [],
    }
  })
  const remedies = await shortageRemedies(
    db,
    build.bomId,
    build.siteId,
    answers
      .filter((line) => line.short.compare(ZERO) > 0)
      .map((line) => ({ itemId: line.itemId, forItemId: line.forItemId, missing: line.short })),
    today,
  )
  return answers.map(({ short, ...line }) => {
    void short
    return { ...line, remedies: remedies.get(line.itemId) ?? [] }
  })
}

const sumOf = (set: readonly { quantity: string }[]): Ratio =>
  set.reduce((sum, entry) => sum.add(ratio(entry.quantity)), ZERO)

/** The picking order, but what is set aside for the line first. */
function inOrder(goods: readonly StockedPickable[], set: readonly { balanceId: number }[]): readonly StockedPickable[] {
  const mine = new Set(set.map((entry) => entry.balanceId))
  const sorted = pickOrder(goods)
  return [
    ...sorted.filter((entry) => mine.has(entry.balanceId)),
    ...sorted.filter((entry) => !mine.has(entry.balanceId)),
  ]
}

/** What a line takes as things stand: its own goods, then the picking order. */
function takesOf(item: MeasuredItem, quantity: Ratio, choices: readonly Choice[]): NeededComponent {
  let missing = quantity
  const takes: Take[] = []
  for (const entry of choices.filter((choice) => choice.byOrder)) {
    if (missing.compare(ZERO) <= 0) {
      break
    }
    const taken = ratio(entry.free).compare(missing) < 0 ? ratio(entry.free) : missing
    missing = missing.sub(taken)
    takes.push({
      balanceId: entry.balanceId,
      bin: entry.bin,
      lot: entry.lot,
      piece: entry.piece,
      expiresOn: entry.expiresOn,
      before: entry.onHand,
      quantity: toText(taken),
      after: toText(ratio(entry.onHand).sub(taken)),
    })
  }
  return {
    itemId: item.id,
    code: item.code,
    name: item.name,
    symbol: item.symbol,
    need: toText(quantity),
    missing: toText(missing),
    takes,
  }
}

export async function besides(bomId: number, bill: BomHead, made: Ratio): Promise<ByProductAnswer[]> {
  return (await byProductsOf(db, bomId, bill)).map(({ item: item, each }) => ({
    itemId: item.id,
    code: item.code,
    name: item.name,
    unit: item.stockUnit,
    symbol: item.symbol,
    tracking: item.tracking,
    quantity: toText(stepOf(item, each.mul(made))),
  }))
}

const stepOf = (item: MeasuredItem, quantity: Ratio): Ratio =>
  toSteps(quantity, item.measure.finestStep, 'recorded').quantity
