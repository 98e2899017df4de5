import { sql } from 'drizzle-orm'
import { readGtin } from '~~/core/codes'
import { groupBy } from '~~/core/group-by'
import { pickOrder } from '~~/core/stock'
import { useForPart } from '~~/core/structure'
import { convert, printAmount, ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units'
import { db, rows } from '~~/server/database/client'
import { boms } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type {
  BuildAnswer,
  BuildLineAnswer,
  ByProductAnswer,
  Choice,
  NeededComponent,
  Outcome,
  Take,
} from '~~/shared/workshop-answers'
import { OPEN_BUILD } from '~~/shared/workshop'
import { among } from '../catalogue/definitions/store'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { loadPostings } from '../stock/postings'
import type { StockedPickable } from '../stock/pickable'
import { bindBills, type BomHead } from '../structure/load-structure'
import { minutesOf, workOf } from './bill-needs'
import { costOfBuild } from './build-cost'
import { byProductsOf } from './receive-output'
import { pickableAt } from './allocate-build'
import { shortageRemedies } from './shortage-remedies'

type Head = Pick<
  BuildAnswer,
  | 'id'
  | 'number'
  | 'itemId'
  | 'bomId'
  | 'revision'
  | 'code'
  | 'name'
  | 'source'
  | 'tracking'
  | 'shelfLifeDays'
  | 'unit'
  | 'symbol'
  | 'quantity'
  | 'made'
  | 'releaseOn'
  | 'dueOn'
  | 'startedOn'
  | 'doneOn'
  | 'status'
  | 'site'
  | 'siteId'
  | 'note'
  | 'version'
> & { readonly salesLineId: number | null; readonly forBuildId: number | null }

/** A build as its page shows it: what it takes and from where, what is short and what can be done, what it has used, what came out and what that cost. */
export async function loadBuild(id: number, today: string): Promise<BuildAnswer> {
  const [head] = await rows<Head>(
    db,
    sql`
      select
        b.id, b.number, b.item_id as "itemId", b.bom_id as "bomId", m.revision, i.code, i.name, i.source,
        i.tracking, i.shelf_life_days as "shelfLifeDays", i.stock_unit as unit, u.symbol,
        trim_scale(b.quantity)::text as quantity, trim_scale(b.made)::text as made, b.release_on as "releaseOn",
        b.due_on as "dueOn", b.started_on as "startedOn", b.done_on as "doneOn", b.status, s.name as site,
        b.site_id as "siteId", b.note, b.version, b.sales_line_id as "salesLineId",
        b.for_build_id as "forBuildId"
      from builds b
      join boms m on m.id = b.bom_id
      join items i on i.id = b.item_id
      join units u on u.code = i.stock_unit
      join sites s on s.id = b.site_id
      where b.id = ${id}`,
  )
  if (!head) {
    throw new Refusal('not-found', 'There is no such build.')
  }
  const { salesLineId, forBuildId, ...build } = head
  const bill = (await bindBills(db, await loadMeasuredItems(db, [build.itemId]), sql`b.id = ${build.bomId}`)).heads[0]!
  const [held] = await rows<{ onHand: string }>(
    db,
    sql`
      select coalesce(sum(on_hand), 0) as "onHand"
      from balances
      where item_id = ${build.itemId} and status = 'available'`,
  )
  const [bom] = await db
    .select({ steps: boms.steps })
    .from(boms)
    .where(sql`${boms.id} = ${build.bomId}`)
  const isOpen = OPEN_BUILD.includes(build.status)
  const left =
    isOpen && ratio(build.quantity).compare(ratio(build.made)) > 0 ? ratio(build.quantity).sub(ratio(build.made)) : ZERO
  const [forWhat] = await rows<{ number: string; link: string }>(
    db,
    sql`
      select o.number, '/demand/orders/' || o.id as link
      from sales_lines l
      join sales_orders o on o.id = l.order_id
      where l.id = ${salesLineId}
      union all
      select number, '/workshop/builds/' || id
      from builds
      where id = ${forBuildId}`,
  )
  return {
    ...build,
    left: toText(left),
    onHand: held!.onHand,
    after: toText(ratio(held!.onHand).add(left)),
    work: workOf(bill, left).toString(),
    minutesLeft: toText(tenth(minutesOf(bill, left))),
    forNumber: forWhat?.number ?? null,
    forLink: forWhat?.link ?? null,
    components: await loadLines(build, isOpen, left, today),
    byProducts: await besides(build.bomId, bill, left),
    steps: (bom?.steps ?? []).map((step) => ({ text: step.text, pictureId: step.pictureId ?? null })),
    cost: await costOfBuild(db, build, bill),
    outputs: await outcomes(id),
    postings: await loadPostings('build', id),
    withSubAssemblies: await rows(
      db,
      sql`
        select b.id, b.number, i.code, trim_scale(b.quantity)::text as quantity, b.status
        from builds b
        join items i on i.id = b.item_id
        where b.for_build_id = ${id}
        order by b.id`,
    ),
  }
}

/** What came out of a build and was not taken back. */
const outcomes = (id: number): Promise<Outcome[]> =>
  rows<Outcome>(
    db,
    sql`
      select
        m.item_id as "itemId", i.code, m.lot_id as "lotId", l.number as lot, m.piece_id as "pieceId",
        c.label as piece, trim_scale(sum(m.quantity))::text as quantity, u.symbol
      from postings o
      join moves m on m.posting_id = o.id
      join places f on f.id = m.from_place_id and f.kind = 'workshop'
      join items i on i.id = m.item_id
      join units u on u.code = i.stock_unit
      left join lots l on l.id = m.lot_id
      left join pieces c on c.id = m.piece_id
      where o.document_kind = 'build'
        and o.document_id = ${id}
        and o.reverses_id is null
        and m.basis <> 'back'
        and not exists (select 1 from postings r where r.reverses_id = o.id)
      group by 1, 2, 3, 4, 5, 6, 8
      order by min(m.id)`,
  )

const tenth = (minutes: Ratio): Ratio => toSteps(minutes, ratio('0.1'), 'recorded').quantity

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

async function loadLines(
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
            where s.line_id = l.id and not exists (select 1 from postings r where r.reverses_id = s.posting_id)
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
            sql`select item_id as "itemId", code from item_codes where ${among(sql`item_id`, itemIds)}`,
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
        ? { unit: line.unit, unitSymbol: line.unitSymbol, inUnit: printAmount(inUnit.value, line.unitDecimals) }
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

async function besides(bomId: number, bill: BomHead, made: Ratio): Promise<ByProductAnswer[]> {
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
