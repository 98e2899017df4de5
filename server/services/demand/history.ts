import { sql, type SQL } from 'drizzle-orm'
import type { z } from 'zod'
import { toDay, toIso } from '~~/core/calendar'
import { historyOf, periodOf, periodsBetween, type DaySale } from '~~/core/forecasting'
import { groupBy } from '~~/core/group-by'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { historyBorrowings, historyCorrections } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ItemSeries, SeriesQuery } from '~~/shared/forecast'
import type { HistoryAnswer, HistoryQuery, NewBorrowing, NewCorrection } from '~~/shared/history'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { noteChange } from '../company/command'

/** Years that stand side by side. */
const YEARS = 5

const inGroup = (group: number | null | undefined): SQL =>
  group === null || group === undefined
    ? sql`true`
    : sql`
      i.group_id in (
        with recursive down as (
          select id
          from item_groups
          where id = ${group}
          union
          select g.id
          from item_groups g
          join down on g.parent_id = down.id
        )
        select id
        from down
      )`
export const amongItems = (column: SQL, ids: readonly number[]): SQL =>
  ids.length === 0
    ? sql`false`
    : sql`
      ${column} = any(
        ${sql`
          array[
            ${sql.join(
              ids.map((id) => sql`${id}::int`),
              sql`, `,
            )}
          ]`}
      )`

/**
 * What was sold, a row an item, day, customer and site: shipments that were not taken back, and what was brought in of the past.
 *
 * Units: quantity in the stock unit; value and cost in minor units. A shipment's cost includes what later turned out.
 */
const sold = (items: SQL): SQL => sql`
  (
    select
      p.item_id, p.sold_on as day, p.customer_id, p.site_id, p.quantity, p.value::numeric as value,
      p.cost::numeric as cost
    from past_sales p
    where ${items}
    union all
    select
      p.item_id, p.effective_on, o.customer_id, f.site_id, p.quantity, round(p.quantity * l.stock_price * 100),
      p.value + coalesce((select sum(a.value) from adjustments a where a.move_id = p.id), 0)
    from moves p
    join postings g on g.id = p.posting_id
      and g.kind = 'shipment'
      and g.reverses_id is null
      and not exists (select 1 from postings r where r.reverses_id = g.id)
    join sales_lines l on l.id = p.document_line_id
    join sales_orders o on o.id = l.order_id
    join places f on f.id = p.from_place_id
    where ${items}
  )`

/** What was sold of items at each site between two days. */
export const soldBySite = (
  reader: Reader,
  from: string,
  until: string,
): Promise<{ itemId: number; siteId: number; quantity: string }[]> =>
  rows(
    reader,
    sql`
      select s.item_id as "itemId", s.site_id as "siteId", trim_scale(sum(s.quantity))::text as quantity
      from ${sold(sql`true`)} s
      where s.site_id is not null and s.day >= ${from} and s.day < ${until}
      group by 1, 2
      having sum(s.quantity) > 0
      order by 1, 2`,
  )

/** Sales by period over five years, with what was corrected and borrowed where one item is looked at. */
export async function readHistory(query: HistoryQuery, today: string): Promise<HistoryAnswer> {
  const from = query.step === 'day' ? toIso(toDay(today) - 89) : `${Number(today.slice(0, 4)) - YEARS + 1}-01-01`
  let items
  if (query.itemId !== null) {
    items = sql`p.item_id = ${query.itemId}`
  } else if (query.groupId !== null) {
    items = sql`p.item_id in (select i.id from items i where ${inGroup(query.groupId)})`
  } else {
    items = sql`true`
  }
  let bucket
  if (query.step === 'day') {
    bucket = sql`s.day`
  } else if (query.step === 'week') {
    bucket = sql`date_trunc('week', s.day)::date`
  } else {
    bucket = sql`date_trunc('month', s.day)::date`
  }
  const found = await rows<{ first: string; quantity: string; value: string; cost: string | null; units: number }>(
    db,
    sql`
      select
        ${bucket}::text as first, trim_scale(sum(s.quantity))::text as quantity,
        round(sum(s.value))::text as value,
        case when count(*) = count(s.cost) then round(sum(s.cost))::text end as cost,
        count(distinct i.stock_unit)::int as units
      from ${sold(items)} s
      join items i on i.id = s.item_id
      where s.day >= ${from}
        and s.day <= ${today}
        and (${query.customerId}::int is null or s.customer_id = ${query.customerId})
        and (${query.siteId}::int is null or s.site_id = ${query.siteId})
      group by 1
      order by 1`,
  )
  const [unit] = await rows<{ units: number; symbol: string }>(
    db,
    sql`
      select count(distinct i.stock_unit)::int as units, min(u.symbol) as symbol
      from ${sold(items)} s
      join items i on i.id = s.item_id
      join units u on u.code = i.stock_unit
      where s.day >= ${from}`,
  )
  const known = new Map(found.map((row) => [row.first, row]))
  const begin = found[0]?.first ?? today
  const entry = unit!.units <= 1
  return {
    symbol: entry ? unit!.symbol : null,
    periods:
      found.length === 0
        ? []
        : periodsBetween(begin, today, query.step).map((period) => ({
            ...period,
            quantity: entry ? (known.get(period.first)?.quantity ?? '0') : null,
            value: known.get(period.first)?.value ?? '0',
            cost: known.has(period.first) ? known.get(period.first)!.cost : '0',
          })),
    corrections:
      query.itemId === null
        ? []
        : await rows(
            db,
            sql`
              select
                c.id, c.first_on as "firstOn", c.last_on as "lastOn", trim_scale(c.quantity)::text as quantity,
                c.reason, u.name as who
              from history_corrections c
              join users u on u.id = c.user_id
              where c.item_id = ${query.itemId}
              order by c.first_on`,
          ),
    borrowing:
      query.itemId === null
        ? null
        : ((
            await rows<NonNullable<HistoryAnswer['borrowing']>>(
              db,
              sql`
                select
                  b.from_item_id as "fromItemId", i.code, trim_scale(b.share * 100)::text as percent,
                  b.until_on as "untilOn"
                from history_borrowings b
                join items i on i.id = b.from_item_id
                where b.item_id = ${query.itemId}`,
            )
          )[0] ?? null),
    lentTo:
      query.itemId === null
        ? []
        : await rows(
            db,
            sql`
              select
                b.item_id as "itemId", i.code, trim_scale(b.share * 100)::text as percent,
                b.until_on as "untilOn"
              from history_borrowings b
              join items i on i.id = b.item_id
              where b.from_item_id = ${query.itemId}
              order by i.code`,
          ),
  }
}

/** The histories that forecasts are made from: own sales, corrected, with what is borrowed, up to the last whole period before today. */
export async function readSeries(query: z.output<typeof SeriesQuery>, today: string): Promise<ItemSeries[]> {
  const wanted = await rows<{ id: number; code: string; name: string; symbol: string }>(
    db,
    sql`
      select i.id, i.code, i.name, u.symbol
      from items i
      join units u on u.code = i.stock_unit
      where i.kind = 'stocked'
        and i.status <> 'retired'
        and ${
          query.itemIds
            ? amongItems(sql` i.id`, query.itemIds)
            : sql`
              (
                exists (select 1 from past_sales p where p.item_id = i.id)
                  or exists (select 1 from sales_lines l where l.item_id = i.id and l.shipped > 0)
                  or exists (select 1 from history_borrowings b where b.item_id = i.id)
              )`
        }
        and ${inGroup(query.groupId)}
      order by i.code`,
  )
  if (wanted.length === 0) {
    return []
  }
  const ids = wanted.map((item) => item.id)
  const borrowings = new Map(
    (
      await db
        .select()
        .from(historyBorrowings)
        .where(amongItems(sql`${historyBorrowings.itemId}`, ids))
    ).map((row) => [row.itemId, row]),
  )
  const all = [...new Set([...ids, ...[...borrowings.values()].map((row) => row.fromItemId)])]
  const sales = groupBy(
    await rows<{ itemId: number; day: string; quantity: string }>(
      db,
      sql`
        select s.item_id as "itemId", s.day, sum(s.quantity)::text as quantity
        from ${sold(amongItems(sql`p.item_id`, all))} s
        where s.day < ${today}
        group by 1, 2`,
    ),
    (row) => row.itemId,
  )
  const corrections = groupBy(
    await db
      .select()
      .from(historyCorrections)
      .where(amongItems(sql`${historyCorrections.itemId}`, ids)),
    (row) => row.itemId,
  )
  const salesOf = (id: number): DaySale[] =>
    (sales.get(id) ?? []).map((row) => ({ day: row.day, quantity: Number(row.quantity) }))
  return wanted.map(({ id, ...item }) => {
    const lent = borrowings.get(id)
    const history = historyOf({
      sales: salesOf(id),
      step: query.step,
      upTo: toIso(toDay(periodOf(today, query.step).first) - 1),
      borrowed: lent ? { share: Number(lent.share), until: lent.untilOn, sales: salesOf(lent.fromItemId) } : null,
      corrections: (corrections.get(id) ?? []).map((row) => ({
        first: row.firstOn,
        last: row.lastOn,
        quantity: Number(row.quantity),
      })),
    })
    return {
      itemId: id,
      ...item,
      history: history && {
        periods: history.periods,
        sold: history.sold,
        borrowed: history.borrowed,
        series: { values: history.series.values, period: history.series.period, days: history.series.days! },
      },
    }
  })
}

/** Says what a stretch counts as in forecasts. The books stay as they are. */
export async function correctHistory(
  tx: Tx,
  actor: Actor,
  edit: z.output<typeof NewCorrection>,
): Promise<{ id: number }> {
  await loadMeasuredItem(tx, edit.itemId)
  const [source] = await rows<{ firstOn: string; lastOn: string }>(
    tx,
    sql`
      select first_on as "firstOn", last_on as "lastOn"
      from history_corrections
      where item_id = ${edit.itemId}
        and first_on <= ${edit.lastOn}
        and last_on >= ${edit.firstOn}
        and first_on <> ${edit.firstOn}`,
  )
  if (source) {
    const detail = `${source.firstOn} to ${source.lastOn} is corrected already. Take that back first.`
    throw new Refusal('taken', detail, { firstOn: detail })
  }
  const [made] = await tx
    .insert(historyCorrections)
    .values({ ...edit, userId: actor.userId })
    .onConflictDoUpdate({
      target: [historyCorrections.itemId, historyCorrections.firstOn],
      set: { lastOn: edit.lastOn, quantity: edit.quantity, reason: edit.reason, userId: actor.userId },
    })
    .returning({ id: historyCorrections.id })
  await noteChange(tx, actor, 'history', edit.itemId, null, edit)
  return { id: made!.id }
}
export async function takeCorrectionBack(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const [gone] = await tx
    .delete(historyCorrections)
    .where(sql`${historyCorrections.id} = ${id}`)
    .returning()
  if (!gone) {
    throw new Refusal('not-found', 'This correction is gone already.')
  }
  await noteChange(tx, actor, 'history', gone.itemId, gone, null)
  return { id }
}

/** Lets an item count a share of another's sales as its own, up to a day. */
export async function borrowHistory(
  tx: Tx,
  actor: Actor,
  edit: z.output<typeof NewBorrowing>,
): Promise<{ id: number }> {
  const [own, source] = [
    await loadMeasuredItem(tx, edit.itemId),
    await loadMeasuredItem(tx, edit.fromItemId, 'fromItemId'),
  ]
  let wrong
  if (own.id === source.id) {
    wrong = 'An item cannot borrow from itself.'
  } else if (own.stockUnit !== source.stockUnit) {
    wrong = `${own.code} is held in ${own.symbol}, ${source.code} in ${source.symbol}. Choose an item that is held in the same unit.`
  } else {
    wrong = null
  }
  if (wrong !== null) {
    throw new Refusal('invalid-input', wrong, { fromItemId: wrong })
  }
  const share = (Number(edit.percent) / 100).toString()
  await tx
    .insert(historyBorrowings)
    .values({ itemId: own.id, fromItemId: source.id, share, untilOn: edit.untilOn })
    .onConflictDoUpdate({
      target: historyBorrowings.itemId,
      set: { fromItemId: source.id, share, untilOn: edit.untilOn },
    })
  await noteChange(tx, actor, 'history', own.id, null, {
    borrowsFrom: source.code,
    percent: edit.percent,
    until: edit.untilOn,
  })
  return { id: own.id }
}
export async function endBorrowing(tx: Tx, actor: Actor, itemId: number): Promise<{ id: number }> {
  const [gone] = await tx
    .delete(historyBorrowings)
    .where(sql`${historyBorrowings.itemId} = ${itemId}`)
    .returning()
  if (!gone) {
    throw new Refusal('not-found', 'This item borrows nothing.')
  }
  await noteChange(tx, actor, 'history', itemId, gone, null)
  return { id: itemId }
}

/** The history of one item, a group or all as lines of a file. */
export async function historySheet(
  query: HistoryQuery,
  today: string,
): Promise<{ headings: string[]; lines: string[][] }> {
  const { periods, symbol } = await readHistory(query, today)
  const money = (minor: string | null): string => (minor === null ? '' : (Number(minor) / 100).toFixed(2))
  return {
    headings: ['from', 'to', 'quantity', 'unit', 'value', 'cost', 'margin'],
    lines: periods.map((p) => [
      p.first,
      p.last,
      p.quantity ?? '',
      symbol ?? '',
      money(p.value),
      money(p.cost),
      p.cost === null ? '' : money(String(BigInt(p.value) - BigInt(p.cost))),
    ]),
  }
}
