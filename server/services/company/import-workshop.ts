import { sql } from 'drizzle-orm'
import * as z from 'zod'
import { proposeCuts } from '~~/core/cutting'
import { ratio, toText } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { CuttingEdit } from '~~/shared/workshop/cutting'
import { BUILD_STATES, RecordBuild, type BuildState } from '~~/shared/workshop/requests'
import { SCRAP_REASONS } from '~~/shared/workshop/words'
import { exactIfPlain, loadMeasuredItem } from '../catalogue/measured-items'
import { cancelBuild, createBuild, startBuild } from '../workshop/builds'
import { createCutting, editCutting, loadCuttingIn, problemOf } from '../workshop/cutting'
import { recordBuild } from '../workshop/record-build'
import { makeReady } from '../workshop/allocate-build'

type Row = Readonly<Record<string, string | undefined>>
export interface FindJob {
  readonly item: (code: string | undefined) => Promise<number>
  readonly bin: (code: string | undefined) => Promise<number>
  readonly site: (code: string | undefined) => Promise<number>
}

/** A build as a file tells it: where it stands, and what came of it on which day with what spoiled. */
export async function importBuild(tx: Tx, actor: Actor, row: Row, find: FindJob): Promise<void> {
  const state = (row.state || 'draft') as BuildState
  if (!BUILD_STATES.includes(state)) {
    throw new Refusal('invalid-input', `“${row.state}” is no state of a build. Write ${BUILD_STATES.join(', ')}.`)
  }
  const { id } = await createBuild(tx, actor, {
    number: row.number!,
    itemId: await find.item(row.item),
    quantity: exactIfPlain(row.quantity!),
    unit: row.unit!,
    dueOn: row.due_on!,
    releaseOn: row.release_on!,
    note: row.note ?? '',
  })
  const version = async (): Promise<number> =>
    (await rows<{ version: number }>(tx, sql`select version from builds where id = ${id}`))[0]!.version
  if (state === 'ready') {
    await makeReady(tx, actor, id, { version: await version(), whole: true })
  }
  if (state === 'started') {
    await startBuild(tx, actor, id, await version())
  }
  if (state === 'cancelled') {
    await cancelBuild(tx, actor, id, await version())
  }
  if (!row.made) {
    return
  }
  const [spoiled] = row.spoiled_item
    ? await rows<{ id: number; next: string; unit: string }>(
        tx,
        sql`
          select
            l.id, trim_scale(l.need * ${row.made}::numeric / b.quantity)::text as next, i.stock_unit as unit
          from build_lines l
          join builds b on b.id = l.build_id
          join items i on i.id = l.item_id
          where l.build_id = ${id} and l.item_id = ${await find.item(row.spoiled_item)}`,
      )
    : []
  const line = spoiled && { lineId: spoiled.id, unit: spoiled.unit, balanceId: null }
  const uses = line
    ? [
        { ...line, quantity: ratio(spoiled.next), scrap: '' as const },
        { ...line, quantity: exactIfPlain(row.spoiled!), scrap: z.enum(SCRAP_REASONS).parse(row.spoiled_reason) },
      ]
    : []
  const edit = RecordBuild.omit({ key: true, uses: true }).parse({
    version: await version(),
    made: row.made,
    unit: row.unit,
    binId: await find.bin(row.bin),
    minutes: row.minutes ?? '',
    effectiveOn: row.made_on,
    finished: state === 'done',
  })
  await recordBuild(tx, actor, id, { ...edit, made: exactIfPlain(row.made), uses })
}

/** A cutting job with its lengths, one a line, and the cuts proposed for it. */
export async function importCutting(
  tx: Tx,
  actor: Actor,
  number: string,
  lines: readonly Row[],
  find: FindJob,
): Promise<void> {
  const [head] = lines
  const { id } = await createCutting(tx, actor, {
    number,
    itemId: await find.item(head!.item),
    siteId: await find.site(head!.site),
    dueOn: head!.due_on!,
    note: head!.note ?? '',
  })
  const item = await loadMeasuredItem(tx, await find.item(head!.item))
  const edit = {
    dueOn: head!.due_on!,
    note: head!.note ?? '',
    kerf: head!.kerf || '0',
    kerfUnit: item.stockUnit,
    keep: head!.keep || '0',
    keepUnit: item.stockUnit,
    oneLot: head!.one_lot === 'yes',
    wanted: lines.map((line) => ({
      job: line.for ?? '',
      quantity: line.length!,
      unit: line.unit!,
      count: line.count!,
    })),
  }
  await editCutting(tx, actor, id, CuttingEdit.parse({ ...edit, version: 1, plan: null }))
  const { job, stock } = await loadCuttingIn(tx, id)
  const plan = proposeCuts(problemOf(job, item, stock))
  await editCutting(
    tx,
    actor,
    id,
    CuttingEdit.parse({
      ...edit,
      version: 2,
      plan: {
        bound: toText(item.measure.finestStep.mul(plan.bound)),
        isExact: plan.isExact,
        cuts: plan.cuts.map((cut) => ({ pieceId: Number(cut.stock), parts: cut.parts.map(Number) })),
      },
    }),
  )
}
