import { sql } from 'drizzle-orm'
import { ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM, notReversed } from '~~/server/database/sql'
import { boms } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { BuildAnswer, Outcome } from '~~/shared/workshop/answers'
import { OPEN_BUILD } from '~~/shared/workshop/requests'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { loadPostings } from '../../ledger/postings'
import { bindBills } from '../structure/bind-structure'
import { minutesOf, workOf } from './bill-needs'
import { costOfBuild } from './build-cost'
import { loadLines, besides } from './read-build-lines'

export type Head = Pick<
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

/**
 * A build as its page shows it: what it takes and from where, what is short and what can be done, what it has used,
 * what came out and what that cost.
 */
export async function loadBuild(id: number, today: string): Promise<BuildAnswer> {
  const [head] = await rows<Head>(
    db,
    sql`
      select
        b.id, b.number, b.item_id as "itemId", b.bom_id as "bomId", m.revision, i.code, i.name, i.source,
        i.tracking, i.shelf_life_days as "shelfLifeDays", i.stock_unit as unit, i.symbol,
        trim_scale(b.quantity)::text as quantity, trim_scale(b.made)::text as made, b.release_on as "releaseOn",
        b.due_on as "dueOn", b.started_on as "startedOn", b.done_on as "doneOn", b.status, s.name as site,
        b.site_id as "siteId", b.note, b.version, b.sales_line_id as "salesLineId",
        b.for_build_id as "forBuildId"
      from builds b
      join boms m on m.id = b.bom_id
      join ${MEASURED_ITEM} i on i.id = b.item_id
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
        c.label as piece, trim_scale(sum(m.quantity))::text as quantity, i.symbol
      from postings o
      join moves m on m.posting_id = o.id
      join places f on f.id = m.from_place_id and f.kind = 'workshop'
      join ${MEASURED_ITEM} i on i.id = m.item_id
      left join lots l on l.id = m.lot_id
      left join pieces c on c.id = m.piece_id
      where o.document_kind = 'build'
        and o.document_id = ${id}
        and o.reverses_id is null
        and m.basis <> 'back'
        and ${notReversed('o.id')}
      group by 1, 2, 3, 4, 5, 6, 8
      order by min(m.id)`,
  )

const tenth = (minutes: Ratio): Ratio => toSteps(minutes, ratio('0.1'), 'recorded').quantity
