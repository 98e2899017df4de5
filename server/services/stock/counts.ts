import { eq, sql, type SQL } from 'drizzle-orm'
import { ratio, toText, ZERO } from '~~/core/units'
import { lineValue } from '~~/core/costing'
import { db, rows, type Tx } from '~~/server/database/client'
import { countLines, stockCounts } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { AddCountLine, EnterCounts, NewCount } from '~~/shared/counts'
import { asNumeric, loadMeasuredItem, loadMeasuredItems, readQuantity } from '../catalogue/measured-items'
import { nextNumber, noteChange, requireVersion } from '../company/command'
import { loadPostings } from './postings'
import { dueItems } from './counts-due'
import { requireWithinLimit } from './limits'
import { lotToTake, pieceToTake } from './lots'
import { externalPlace } from './external-places'
import { post, type DraftMove, type Posted } from './post'

type Count = typeof stockCounts.$inferSelect

/** Opens a stock count: a line for everything that the books say lies in its scope, and on request for bins where an item of it once lay. */
export async function createCount(
  tx: Tx,
  actor: Actor,
  edit: Omit<NewCount, 'key'>,
): Promise<{ id: number; number: string; lines: number }> {
  const list = (ids: readonly number[]): SQL =>
    sql`
      (
        ${sql.join(
          ids.map((id) => sql`${id}`),
          sql`, `,
        )}
      )`
  const due = edit.kind === 'due' ? (await dueItems(tx, actor.today)).map((item) => item.id) : []
  if (edit.kind === 'due' && due.length === 0) {
    throw new Refusal('not-now', 'Nothing is due to be counted. Give groups a count interval, or count by place.', {
      kind: 'Nothing is due to be counted.',
    })
  }
  const within: Readonly<Record<NewCount['kind'], SQL>> = {
    everything: sql`true`,
    places: edit.binIds.length > 0 ? sql`b.place_id in ${list(edit.binIds)}` : sql`false`,
    groups:
      edit.groupIds.length > 0
        ? sql`
          i.group_id in (
            with recursive down as (
              select id
              from item_groups
              where id in ${list(edit.groupIds)}
              union
              select g.id
              from item_groups g
              join down on g.parent_id = down.id
            )
            select id
            from down
          )`
        : sql`false`,
    items: edit.itemIds.length > 0 ? sql`b.item_id in ${list(edit.itemIds)}` : sql`false`,
    due: due.length > 0 ? sql`b.item_id in ${list(due)}` : sql`false`,
  }
  const number = await nextNumber(tx, 'SC')
  const recountOver = edit.recountOver === '' ? null : lineValue(ratio(edit.recountOver), ratio(1))
  const [made] = await tx
    .insert(stockCounts)
    .values({
      number,
      name: edit.name,
      blind: edit.blind,
      recountOver,
      openedOn: actor.today,
      userId: actor.userId,
      scope: {
        kind: edit.kind,
        siteId: edit.siteId,
        binIds: edit.binIds,
        groupIds: edit.groupIds,
        itemIds: edit.kind === 'due' ? due : edit.itemIds,
        withNone: edit.withNone,
      },
    })
    .returning()
  const [counted] = await rows<{ lines: number }>(
    tx,
    sql`
      with made as (
        insert into count_lines (count_id, item_id, place_id, lot_id, piece_id, status)
        select ${made!.id}, b.item_id, b.place_id, b.lot_id, b.piece_id, b.status
        from balances b
        join items i on i.id = b.item_id
        join places p on p.id = b.place_id and p.kind = 'bin'
        where (b.on_hand > 0 ${edit.withNone ? sql`or (b.lot_id is null and b.piece_id is null)` : sql``})
          and (${edit.siteId}::int is null or p.site_id = ${edit.siteId})
          and ${within[edit.kind]}
        order by p.site_id, p.pick_order, p.code, i.code, b.lot_id, b.piece_id
        returning 1
      )
      select count(*)::int as lines
      from made`,
  )
  if (counted!.lines === 0) {
    throw new Refusal('not-now', 'Nothing lies there by the books. Choose other places, or include what has none.', {
      kind: 'Nothing lies there by the books.',
    })
  }
  await noteChange(tx, actor, 'stock count', made!.id, null, { number, version: 1 })
  return { id: made!.id, number, lines: counted!.lines }
}

/** Something found that is not on the sheet. */
export async function addCountLine(tx: Tx, actor: Actor, id: number, edit: AddCountLine): Promise<{ lineId: number }> {
  await lockOpen(tx, id)
  const item = await loadMeasuredItem(tx, edit.itemId)
  const piece = await pieceToTake(tx, item, edit.piece, 'piece')
  const lotId = piece ? piece.lotId : await lotToTake(tx, item, edit.lot, 'lot')
  const [made] = await tx
    .insert(countLines)
    .values({ countId: id, itemId: edit.itemId, placeId: edit.binId, lotId, pieceId: piece?.id ?? null })
    .onConflictDoNothing()
    .returning({ id: countLines.id })
  if (!made) {
    throw new Refusal('taken', `${item.code} is on the sheet there already.`, {
      itemId: `${item.code} is on the sheet there already.`,
    })
  }
  return { lineId: made.id }
}

/**
 * Notes what was counted.
 *
 * The books are read in the same moment, so that goods that move before or after the counting of a line make no difference. A difference
 * that is worth more than the count's threshold is not taken at once: the line is to be counted again.
 */
export async function enterCounts(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: EnterCounts,
): Promise<{ entered: number; again: number[] }> {
  const count = await lockOpen(tx, id)
  const lines = await rows<{
    id: number
    itemId: number
    placeId: number
    lotId: number | null
    pieceId: number | null
    status: string
    first: string | null
    counted: string | null
    recount: boolean
  }>(
    tx,
    sql`
      select
        id, item_id as "itemId", place_id as "placeId", lot_id as "lotId", piece_id as "pieceId", status,
        first::text, counted::text, recount
      from count_lines
      where count_id = ${id}
        and id in (
          ${sql.join(
            edit.lines.map((line) => sql`${line.lineId}`),
            sql`, `,
          )}
        )
      order by id
      for update`,
  )
  const items = await loadMeasuredItems(tx, [...new Set(lines.map((line) => line.itemId))])
  const again: number[] = []
  for (const [index, entry] of edit.lines.entries()) {
    const line = lines.find((line) => line.id === entry.lineId)
    if (!line) {
      throw new Refusal('not-found', 'That line is not on this sheet. Reload the page.')
    }
    if (entry.quantity === '') {
      await tx
        .update(countLines)
        .set({
          counted: null,
          booked: null,
          worth: null,
          entered: '',
          first: null,
          recount: false,
          countedAt: null,
          countedBy: null,
        })
        .where(eq(countLines.id, line.id))
      continue
    }
    const item = items.get(line.itemId)!
    const counted = /^0+([.,]0*)?$/.test(entry.quantity)
      ? ZERO
      : readQuantity(item, entry.quantity, entry.unit, `lines.${index}.quantity`).quantity
    const [there] = await rows<{ booked: string; worth: string | null }>(
      tx,
      sql`
        select
          coalesce(
            (
              select on_hand
              from balances b
              where b.item_id = ${line.itemId}
                and b.place_id = ${line.placeId}
                and b.lot_id is not distinct from ${line.lotId}::int
                and b.piece_id is not distinct from ${line.pieceId}::int
                and b.status = ${line.status}
            ),
            0
          )::text as booked,
          (
            select coalesce((h.value / nullif(h.quantity, 0)), i.standard_cost * 100, 0)::text
            from items i
            left join places p on p.id = ${line.placeId}
            left join holdings h on h.item_id = i.id and h.site_id = p.site_id and h.line_id = 0
            where i.id = ${line.itemId}
          ) as worth`,
    )
    const booked = ratio(there!.booked)
    const worth = lineValue(counted.sub(booked), ratio(there!.worth ?? '0'), 0)
    const toRepeat = count.recountOver !== null && !line.recount && (worth < 0n ? -worth : worth) > count.recountOver
    if (toRepeat) {
      again.push(line.id)
    }
    await tx
      .update(countLines)
      .set({
        booked: asNumeric(booked),
        counted: toRepeat ? null : asNumeric(counted),
        entered: toRepeat ? '' : entry.quantity,
        unit: entry.unit,
        worth,
        note: entry.note,
        countedBy: actor.userId,
        countedAt: sql`now()`,
        first: toRepeat ? asNumeric(counted) : line.first,
        recount: line.recount || toRepeat,
      })
      .where(eq(countLines.id, line.id))
  }
  return { entered: edit.lines.length, again }
}

/** Records all differences of a count as one act; lines that nobody counted stop it, or stay as they are. */
export async function approveCount(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; uncounted: 'refuse' | 'leave' },
): Promise<{ postingId: number | null; differences: number; value: string }> {
  const count = await lockOpen(tx, id)
  await requireVersion(tx, 'stock count', id, edit.version, count.version)
  const lines = await rows<{
    id: number
    itemId: number
    placeId: number
    lotId: number | null
    pieceId: number | null
    status: string
    booked: string
    counted: string | null
  }>(
    tx,
    sql`
      select
        id, item_id as "itemId", place_id as "placeId", lot_id as "lotId", piece_id as "pieceId", status,
        booked::text, counted::text
      from count_lines
      where count_id = ${id}
      order by item_id, place_id, lot_id, piece_id`,
  )
  const left = lines.filter((line) => line.counted === null).length
  if (left > 0 && edit.uncounted === 'refuse') {
    throw new Refusal(
      'not-now',
      `${left} of ${lines.length} lines are not counted yet. Count them, or say that they stay as the books have them.`,
    )
  }
  if (left === lines.length) {
    throw new Refusal('not-now', 'Nothing is counted yet.')
  }
  const items = await loadMeasuredItems(tx, [...new Set(lines.map((line) => line.itemId))])
  const gone = await externalPlace(tx, 'correction')
  const moves = lines.flatMap((line): DraftMove[] => {
    if (line.counted === null) {
      return []
    }
    const difference = ratio(line.counted).sub(ratio(line.booked))
    if (difference.equals(ZERO)) {
      return []
    }
    const here = { placeId: line.placeId, status: line.status as 'available' }
    const quantity = difference.abs()
    const more = difference.compare(ZERO) > 0
    return [
      {
        itemId: line.itemId,
        lotId: line.lotId,
        pieceId: line.pieceId,
        quantity,
        from: more ? gone : here,
        to: more ? here : gone,
        entered: toText(quantity),
        unit: items.get(line.itemId)!.stockUnit,
        residue: ZERO,
        valuation: { kind: 'method' },
        lineId: line.id,
      },
    ]
  })
  const posted: Posted | null =
    moves.length === 0
      ? null
      : await post(tx, actor, {
          kind: 'stock count',
          label: `Stock count ${count.number}`,
          reason: 'count difference',
          document: { kind: 'stock count', id },
          effectiveOn: actor.today,
          moves,
        })
  const value = (posted?.values ?? []).reduce((sum, value) => sum + value, 0n)
  if (posted) {
    await requireWithinLimit(tx, actor, value)
  }
  await tx
    .update(stockCounts)
    .set({
      status: 'recorded',
      approvedBy: actor.userId,
      approvedOn: actor.today,
      postingId: posted?.postingId ?? null,
      version: count.version + 1,
    })
    .where(eq(stockCounts.id, id))
  for (const [index, move] of moves.entries()) {
    await rows(
      tx,
      sql`
        update count_lines
        set worth = ${(move.to === gone ? -posted!.values[index]! : posted!.values[index]!).toString()}::bigint
        where id = ${move.lineId}`,
    )
  }
  await noteChange(
    tx,
    actor,
    'stock count',
    id,
    { status: count.status, version: count.version },
    { status: 'recorded', version: count.version + 1 },
  )
  return { postingId: posted?.postingId ?? null, differences: moves.length, value: value.toString() }
}

export async function cancelCount(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const count = await lockOpen(tx, id)
  await requireVersion(tx, 'stock count', id, version, count.version)
  await tx
    .update(stockCounts)
    .set({ status: 'cancelled', version: version + 1 })
    .where(eq(stockCounts.id, id))
  await noteChange(
    tx,
    actor,
    'stock count',
    id,
    { status: count.status, version },
    { status: 'cancelled', version: version + 1 },
  )
  return { id }
}

async function lockOpen(tx: Tx, id: number): Promise<Count> {
  const [count] = await tx.select().from(stockCounts).where(eq(stockCounts.id, id)).for('update')
  if (!count) {
    throw new Refusal('not-found', 'There is no such stock count.')
  }
  if (count.status !== 'open') {
    throw new Refusal('not-now', `${count.number} is ${count.status} already.`)
  }
  return count
}

export interface CountRow {
  id: number
  number: string
  name: string
  status: string
  openedOn: string
  approvedOn: string | null
  who: string
  lines: number
  counted: number
  right: number
  again: number
  worth: string | null
  off: string | null
  booked: string | null
}

/** All counts, newest first, with how right the books were: lines without a difference, and what the differences are worth in all and without sign. */
export const listCounts = (): Promise<CountRow[]> =>
  rows<CountRow>(
    db,
    sql`
      select
        c.id, c.number, c.name, c.status, c.opened_on as "openedOn", c.approved_on as "approvedOn",
        u.name as who, count(l.id)::int as lines, count(l.counted)::int as counted,
        count(*) filter (where l.counted = l.booked)::int as right,
        count(*) filter (where l.recount and l.counted is null)::int as again,
        case
          when c.status = 'recorded' then sum(l.worth) filter (where l.counted <> l.booked)
        end::text as worth,
        case
          when c.status = 'recorded' then sum(abs(l.worth)) filter (where l.counted <> l.booked)
        end::text as off,
        null as booked
      from stock_counts c
      join users u on u.id = c.user_id
      left join count_lines l on l.count_id = c.id
      group by c.id, u.name
      order by c.id desc
      limit 200`,
  )

export interface CountLineRow {
  id: number
  itemId: number
  code: string
  name: string
  binId: number
  bin: string
  site: string
  lot: string | null
  piece: string | null
  status: string
  stockUnit: string
  symbol: string
  finestStep: string
  counted: string | null
  entered: string
  unit: string
  first: string | null
  recount: boolean
  note: string
  who: string | null
  booked: string | null
  worth: string | null
  moved: number
}

/**
 * A count with its lines. As long as it is open and blind, what the books say is not told.
 */
export async function loadCount(id: number, review: boolean) {
  const [count] = await rows<{
    id: number
    number: string
    name: string
    status: string
    blind: boolean
    recountOver: string | null
    openedOn: string
    approvedOn: string | null
    who: string
    approver: string | null
    postingId: number | null
    version: number
    scope: { kind: string }
  }>(
    db,
    sql`
      select
        c.id, c.number, c.name, c.status, c.blind, c.recount_over::text as "recountOver",
        c.opened_on as "openedOn", c.approved_on as "approvedOn", u.name as who, a.name as approver,
        c.posting_id as "postingId", c.version, c.scope
      from stock_counts c
      join users u on u.id = c.user_id
      left join users a on a.id = c.approved_by
      where c.id = ${id}`,
  )
  if (!count) {
    throw new Refusal('not-found', 'There is no such stock count.')
  }
  const hidden = count.status === 'open' && count.blind && !review
  const lines = await rows<CountLineRow>(
    db,
    sql`
      select
        l.id, l.item_id as "itemId", i.code, i.name, p.id as "binId", p.name as bin, s.name as site,
        o.number as lot, c.label as piece, l.status, i.stock_unit as "stockUnit", u.symbol,
        i.finest_step::text as "finestStep", trim_scale(l.counted)::text as counted, l.entered, l.unit,
        ${hidden ? sql`null` : sql`trim_scale(l.first)::text`} as first, l.recount, l.note, w.name as who,
        ${
          hidden
            ? sql` null`
            : sql`
              trim_scale(
                coalesce(
                  l.booked,
                  (
                    select on_hand
                    from balances b
                    where b.item_id = l.item_id
                      and b.place_id = l.place_id
                      and b.lot_id is not distinct from l.lot_id
                      and b.piece_id is not distinct from l.piece_id
                      and b.status = l.status
                  ),
                  0
                )
              )::text`
        } as booked,
        ${hidden ? sql`null` : sql`l.worth::text`} as worth,
        (
          select count(*)::int
          from moves m
          join postings g on g.id = m.posting_id
          where m.item_id = l.item_id
            and m.lot_id is not distinct from l.lot_id
            and m.piece_id is not distinct from l.piece_id
            and l.place_id in (m.from_place_id, m.to_place_id)
            and g.recorded_at > (
              select min(at) from changes h where h.entity = 'stock count' and h.entity_id = l.count_id::text
            )
            and g.id is distinct from ${count.postingId}::int
        ) as moved
      from count_lines l
      join items i on i.id = l.item_id
      join units u on u.code = i.stock_unit
      join places p on p.id = l.place_id
      join sites s on s.id = p.site_id
      left join lots o on o.id = l.lot_id
      left join pieces c on c.id = l.piece_id
      left join users w on w.id = l.counted_by
      where l.count_id = ${id}
      order by s.name, p.pick_order, p.code, i.code, o.number, c.label`,
  )
  return { ...count, hidden, lines, postings: await loadPostings('stock count', id) }
}
