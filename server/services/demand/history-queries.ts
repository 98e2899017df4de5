import { majorText } from '~~/core/money'
import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { toDay, toIso } from '~~/core/calendar/days'
import { historyOf, type DaySale } from '~~/core/forecasting'
import { periodOf, periodsBetween } from '~~/core/calendar/periods'
import { groupBy } from '~~/core/group-by'
import { db, rows } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM } from '~~/server/database/sql'
import { historyBorrowings, historyCorrections } from '~~/server/database/schema'
import type { ItemSeries, SeriesQuery } from '~~/shared/demand/forecast'
import type { HistoryAnswer, HistoryQuery } from '~~/shared/demand/history'
import { YEARS, inGroup, sold } from './history'

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
      select count(distinct i.stock_unit)::int as units, min(i.symbol) as symbol
      from ${sold(items)} s
      join ${MEASURED_ITEM} i on i.id = s.item_id
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

/**
 * The histories that forecasts are made from: own sales, corrected, with what is borrowed, up to the last whole period
 * before today.
 */
export async function readSeries(query: z.output<typeof SeriesQuery>, today: string): Promise<ItemSeries[]> {
  const wanted = await rows<{ id: number; code: string; name: string; symbol: string }>(
    db,
    sql`
      select i.id, i.code, i.name, i.symbol
      from ${MEASURED_ITEM} i
      where i.kind = 'stocked'
        and i.status <> 'retired'
        and ${
          query.itemIds
            ? anyOf(sql`i.id`, query.itemIds)
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
        .where(anyOf(sql`${historyBorrowings.itemId}`, ids))
    ).map((row) => [row.itemId, row]),
  )
  const all = [...new Set([...ids, ...[...borrowings.values()].map((row) => row.fromItemId)])]
  const sales = groupBy(
    await rows<{ itemId: number; day: string; quantity: string }>(
      db,
      sql`
        select s.item_id as "itemId", s.day, sum(s.quantity)::text as quantity
        from ${sold(anyOf(sql`p.item_id`, all))} s
        where s.day < ${today}
        group by 1, 2`,
    ),
    (row) => row.itemId,
  )
  const corrections = groupBy(
    await db
      .select()
      .from(historyCorrections)
      .where(anyOf(sql`${historyCorrections.itemId}`, ids)),
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

/** The history of one item, a group or all as lines of a file, with what it cost for whoever may see that. */
export async function historySheet(
  query: HistoryQuery,
  today: string,
  seesCosts: boolean,
): Promise<{ headings: string[]; lines: string[][] }> {
  const { periods, symbol } = await readHistory(query, today)
  const money = (minor: string | null): string => (minor === null ? '' : majorText(minor))
  return {
    headings: ['from', 'to', 'quantity', 'unit', 'value', ...(seesCosts ? ['cost', 'margin'] : [])],
    lines: periods.map((p) => [
      p.first,
      p.last,
      p.quantity ?? '',
      symbol ?? '',
      money(p.value),
      ...(seesCosts ? [money(p.cost), p.cost === null ? '' : money(String(BigInt(p.value) - BigInt(p.cost)))] : []),
    ]),
  }
}
