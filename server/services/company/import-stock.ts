import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { readTraits } from '~~/shared/stock/requests'
import { exactIfPlain } from '../catalogue/measured-items'
import { correct } from '../stock/correct'
import { approveCount, createCount } from '../stock/counts'
import { enterCounts } from '../stock/enter-counts'
import { createTransfer, shipTransfer } from '../stock/transfers'

export type Row = Readonly<Record<string, string | undefined>>
type Find = (code: string | undefined) => Promise<number>

/** A line of opening stock, on the day that it names. */
export async function importOpening(tx: Tx, actor: Actor, row: Row, find: { item: Find; bin: Find }): Promise<void> {
  const traits = readTraits(row.traits ?? '')
  if (traits === null) {
    throw new Refusal('invalid-input', `“${row.traits}”: write traits as name = value, with semicolons between.`)
  }
  await correct(
    tx,
    { ...actor, today: row.on || actor.today },
    {
      itemId: await find.item(row.item),
      binId: await find.bin(row.bin),
      lot: row.lot ?? '',
      piece: row.piece ?? '',
      direction: 'more',
      quantity: exactIfPlain(row.quantity!),
      unit: row.unit!,
      reason: 'opening stock',
      unitCost: row.unit_cost ?? '',
      expiresOn: row.expires_on || null,
      traits,
    },
  )
}

/** A stock count that was recorded on a day: what was counted, line by line. */
export async function importCount(
  tx: Tx,
  actor: Actor,
  name: string,
  lines: readonly Row[],
  find: { item: Find },
): Promise<void> {
  const then = { ...actor, today: lines[0]!.counted_on! }
  const itemIds = await Promise.all(lines.map((line) => find.item(line.item)))
  const { id } = await createCount(tx, then, {
    name,
    kind: 'items',
    siteId: null,
    binIds: [],
    groupIds: [],
    itemIds: [...new Set(itemIds)],
    withNone: false,
    blind: true,
    recountOver: '',
  })
  for (const [index, line] of lines.entries()) {
    const [known] = await rows<{ id: number }>(
      tx,
      sql`
        select l.id
        from count_lines l
        join places p on p.id = l.place_id
        left join lots o on o.id = l.lot_id
        left join pieces c on c.id = l.piece_id
        where l.count_id = ${id}
          and l.item_id = ${itemIds[index]}
          and lower(p.code) = lower(${line.bin ?? ''})
          and coalesce(o.number, '') = ${line.lot ?? ''}
          and coalesce(c.label, '') = ${line.piece ?? ''}`,
    )
    if (!known) {
      throw new Refusal('invalid-input', `${line.item} does not lie in ${line.bin} by the books.`)
    }
    await enterCounts(tx, then, id, {
      lines: [{ lineId: known.id, quantity: exactIfPlain(line.counted!), unit: line.unit!, note: line.note ?? '' }],
    })
  }
  await approveCount(tx, then, id, { version: 1, uncounted: 'leave' })
}

/** A transfer, and what of it has left on the day that it names. */
export async function importTransfer(
  tx: Tx,
  actor: Actor,
  lines: readonly Row[],
  find: { item: Find; site: Find },
): Promise<void> {
  const [first] = lines
  const then = { ...actor, today: first!.leaves_on! < actor.today ? first!.leaves_on! : actor.today }
  const made = await createTransfer(tx, then, {
    fromSiteId: await find.site(first!.from),
    toSiteId: await find.site(first!.to),
    leavesOn: first!.leaves_on!,
    dueOn: first!.due_on || null,
    note: first!.note ?? '',
    lines: await Promise.all(
      lines.map(async (line) => ({
        itemId: await find.item(line.item),
        quantity: exactIfPlain(line.quantity!),
        unit: line.unit!,
      })),
    ),
  })
  const known = await loadTransferLines(tx, made.id)
  const left = lines.flatMap((line, index) =>
    line.shipped
      ? [
          {
            lineId: known[index]!,
            quantity: exactIfPlain(line.shipped),
            unit: line.unit!,
            binId: null,
            lot: line.lot ?? '',
            piece: line.piece ?? '',
          },
        ]
      : [],
  )
  if (left.length > 0) {
    await shipTransfer(tx, then, made.id, { version: 1, lines: left })
  }
}

const loadTransferLines = async (tx: Tx, id: number): Promise<number[]> =>
  (await rows<{ id: number }>(tx, sql`select id from transfer_lines where transfer_id = ${id} order by line`)).map(
    (line) => line.id,
  )
