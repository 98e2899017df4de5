import { eq, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { PICKABLE } from '~~/server/database/sql'
import { buildLines } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { OPEN_BUILD, RecordBuild } from '~~/shared/workshop/requests'
import { loadMeasuredItems, readIfGiven, type MeasuredItem } from '../catalogue/measured-items'
import { bin, externalPlace } from '../../ledger/external-places'
import { postIfAny, type DraftMove, type End } from '../../ledger/post'
import { billInUse } from '../structure/bills'
import { bindBills, type BomHead } from '../structure/bind-structure'
import { workOf } from './bill-needs'
import { createBuild } from './builds'
import type { Build } from './build-status'
import { closeWork } from './close-build'
import { receiveOutput, type Output } from './receive-output'
import { giveFree, pickableAt } from './allocate-build'
import { issueComponents, type Wanted } from './issue-components'
import { wantedOf, accountFor, noteBeside, noteUses } from './account-for-needs'
import { openInspections, plansFor } from '../inspection'
import { saveDocument, lockAsSeen } from '../../documents'
import type { Recorded } from '../../../shared/workshop/answers'

/** What is recorded of a build; what was made may be an exact amount, where all that is left is recorded at once. */
export type RecordEdit = Given<Omit<RecordBuild, 'key'>> & {
  /** What comes out goes into another build, or to its customer, in the same act; nobody can inspect it before. */
  readonly isUsedAtOnce?: boolean
}

const NO_PLANS: Awaited<ReturnType<typeof plansFor>> = new Map()

/**
 * Records a part of a build: what was used, what was spoiled, what came out. The rest of the build stays open unless it
 * is finished.
 *
 * What comes out takes its fraction of the value in work; the last part takes what is left. A line that nothing is said
 * of is taken by the bill for what came out.
 * Errors: `short` (each component, beside its field); `not-now`; `invalid-input`; all of it or nothing is recorded.
 */
export async function recordBuild(tx: Tx, actor: Actor, id: number, edit: RecordEdit): Promise<Recorded> {
  const build = await lockAsSeen(tx, 'build', id, edit.version, OPEN_BUILD)
  const lines = await tx.select().from(buildLines).where(eq(buildLines.buildId, id)).orderBy(buildLines.position)
  const items = await loadMeasuredItems(tx, [...new Set([build.itemId, ...lines.map((line) => line.itemId)])])
  const item = items.get(build.itemId)!
  const head = await headOf(tx, build)
  const effectiveOn = await dayOf(tx, actor, build, edit.effectiveOn)
  const made = madeIn(item, edit)
  const finished = edit.finished || made.compare(ratio(build.quantity).sub(ratio(build.made))) >= 0
  const wanted = wantedOf(build, lines, items, edit, made)
  const withSubAssemblies = edit.withSubAssemblies ? await buildAlong(tx, actor, build, wanted, edit) : []
  const accounted = await accountFor(tx, { build, lines, items }, wanted, edit, { made, finished, head })
  const workshop = await externalPlace(tx, 'workshop')
  const taken = await issueFrom(tx, actor, build, wanted, workshop)
  const making = { build, head, item, made, fraction: accounted.fraction, workshop }
  const output = await outputOf(tx, actor, making, edit, effectiveOn)
  const moves = requireSomething([...taken, ...output.moves], edit)
  const minutes = edit.minutes === null ? null : ratio(edit.minutes)
  const part = { build, item, made, effectiveOn, workValue: workOf(head, made, minutes) }
  const posted = await postRecord(tx, actor, part, moves)
  if (posted) {
    await noteBeside(tx, posted.postingId, { build, lines, items }, edit, minutes)
    await noteUses(tx, posted.postingId, accounted.uses)
  }
  const inspections = await openInspections(tx, actor, posted?.postingId ?? null, output.plans)
  const settled = await settle(tx, actor, { build, item, effectiveOn, finished, isEmpty: made.equals(ZERO) })
  return {
    postingId: posted?.postingId ?? null,
    lot: output.lot,
    value: output.moves.length === 0 ? '0' : posted!.values[taken.length]!.toString(),
    ...settled,
    withSubAssemblies,
    inspections,
  }
}

async function issueFrom(
  tx: Tx,
  actor: Actor,
  build: Build,
  wanted: readonly Wanted[],
  workshop: End,
): Promise<DraftMove[]> {
  const stock = await pickableAt(tx, build.siteId, [...new Set(wanted.map((cut) => cut.item.id))])
  return issueComponents(tx, build.id, wanted, { stock, workshop, today: actor.today })
}

function madeIn(item: MeasuredItem, edit: RecordEdit): Ratio {
  return readIfGiven(item, edit.made, edit.unit, 'made')?.quantity ?? ZERO
}

/** What comes out of the workshop, on hold where it is inspected; nothing where nothing was made yet. */
async function outputOf(
  tx: Tx,
  actor: Actor,
  making: Omit<Parameters<typeof receiveOutput>[2], 'to' | 'toBeside'>,
  edit: RecordEdit,
  effectiveOn: string,
): Promise<Output & { readonly plans: typeof NO_PLANS }> {
  if (making.made.compare(ZERO) <= 0) {
    return { moves: [], lot: null, plans: NO_PLANS }
  }
  const plans = edit.isUsedAtOnce ? NO_PLANS : await plansFor(tx, 'builds', [making.item.id])
  const toBeside = await bin(tx, edit.binId, 'binId', 'receive')
  const to = plans.size > 0 ? ({ ...toBeside, status: 'on hold' } as const) : toBeside
  return { ...(await receiveOutput(tx, actor, { ...making, to, toBeside }, edit, effectiveOn)), plans }
}

function requireSomething(moves: readonly DraftMove[], edit: RecordEdit): readonly DraftMove[] {
  if (moves.length === 0 && !edit.finished) {
    throw new Refusal('invalid-input', 'Nothing was made and nothing was used, so there is nothing to record.', {
      made: 'Give what came out, or what was used.',
    })
  }
  return moves
}

/**
 * The state of the build after a part of it: finished, what is set aside is free again and work that nothing came of is
 * written off.
 */
async function settle(
  tx: Tx,
  actor: Actor,
  part: { build: Build; item: MeasuredItem; effectiveOn: string; finished: boolean; isEmpty: boolean },
): Promise<Pick<Recorded, 'status' | 'writtenOff' | 'version'>> {
  const { build, item, effectiveOn, finished } = part
  await rows(tx, sql`select settle_build(${build.id})`)
  const written = finished && part.isEmpty ? await closeWork(tx, actor, build, item, effectiveOn) : 0n
  if (finished) {
    await giveFree(tx, sql`l.build_id = ${build.id}`)
  }
  const status = finished ? 'done' : 'started'
  const { version } = await saveDocument(tx, actor, 'build', build, {
    set: { status, startedOn: build.startedOn ?? effectiveOn, doneOn: finished ? effectiveOn : null },
  })
  return { status, writtenOff: written.toString(), version }
}

const postRecord = (
  tx: Tx,
  actor: Actor,
  record: {
    readonly build: Build
    readonly item: MeasuredItem
    readonly made: Ratio
    readonly effectiveOn: string
    readonly workValue: ReturnType<typeof workOf>
  },
  moves: readonly DraftMove[],
) => {
  const { build, item, made } = record
  const packs = item.source === 'kit'
  const what = made.compare(ZERO) > 0 ? `${toText(made)} ${item.symbol} ${item.code}` : `nothing yet of ${item.code}`
  return postIfAny(tx, actor, {
    kind: packs ? 'kit packing' : 'build',
    label: `${packs ? 'Packing' : 'Build'} ${build.number} of ${what}`,
    document: { kind: 'build', id: build.id },
    effectiveOn: record.effectiveOn,
    workValue: record.workValue,
    moves,
  })
}

/** All that is left of a build at once, as its bill says. */
export async function completeBuild(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: {
    version: number
    binId: number
    lot: string
    expiresOn: string | null
    withSubAssemblies?: boolean
    isUsedAtOnce?: boolean
  },
): Promise<Recorded & { readonly postingId: number }> {
  const build = await lockAsSeen(tx, 'build', id, edit.version, OPEN_BUILD)
  const item = (await loadMeasuredItems(tx, [build.itemId])).get(build.itemId)!
  const left = ratio(build.quantity).sub(ratio(build.made))
  const recorded = await recordBuild(tx, actor, id, {
    made: left,
    unit: item.stockUnit,
    pieces: [],
    uses: [],
    byProducts: [],
    minutes: null,
    effectiveOn: null,
    finished: true,
    withSubAssemblies: false,
    ...edit,
  })
  return { ...recorded, postingId: recorded.postingId! }
}

export async function headOf(tx: Tx, build: Pick<Build, 'itemId' | 'bomId'>): Promise<BomHead> {
  const { heads } = await bindBills(tx, await loadMeasuredItems(tx, [build.itemId]), sql`b.id = ${build.bomId}`)
  return heads[0]!
}

/** The day on which a part was made: not before the part before it, for the value goes from one to the next. */
async function dayOf(tx: Tx, actor: Actor, build: Build, given: string | null): Promise<string> {
  const day = given ?? actor.today
  if (day > actor.today) {
    throw new Refusal('invalid-input', 'That day is still to come.', { effectiveOn: 'That day is still to come.' })
  }
  const [last] = await rows<{ day: string | null }>(
    tx,
    sql`select max(effective_on) as day from postings where document_kind = 'build' and document_id = ${build.id}`,
  )
  if (last!.day !== null && day < last!.day) {
    throw new Refusal(
      'invalid-input',
      `A part of ${build.number} was recorded for ${last!.day} already; give that day or a later one.`,
      { effectiveOn: `Not before ${last!.day}.` },
    )
  }
  return day
}

/** Builds what is missing of made components, as far down as it takes, in the same act. */
async function buildAlong(
  tx: Tx,
  actor: Actor,
  build: Build,
  wanted: readonly Wanted[],
  edit: RecordEdit,
): Promise<Recorded['withSubAssemblies']> {
  const made: { id: number; number: string; code: string; quantity: string }[] = []
  for (const [itemId, own] of groupBy(
    wanted.filter((cut) => cut.balanceId === null),
    (entry) => entry.item.id,
  )) {
    if ((await billInUse(tx, itemId, actor.today)) === null) {
      continue
    }
    const [free] = await rows<{ free: string }>(
      tx,
      sql`
        select coalesce(sum(b.on_hand - b.allocated), 0) + coalesce(
          (
            select sum(a.quantity)
            from allocations a
            join build_lines l on l.id = a.build_line_id
            where l.build_id = ${build.id} and a.item_id = ${itemId}
          ),
          0
        ) as free
        from balances b
        join places p on p.id = b.place_id and p.kind = 'bin'
        left join lots t on t.id = b.lot_id
        where b.item_id = ${itemId}
          and p.site_id = ${build.siteId}
          and ${PICKABLE}
          and (t.expires_on is null or t.expires_on >= ${actor.today})`,
    )
    const missing = own.reduce((sum, entry) => sum.add(entry.quantity), ZERO).sub(ratio(free!.free))
    if (missing.compare(ZERO) <= 0) {
      continue
    }
    const { item: item } = own[0]!
    const child = await createBuild(tx, actor, {
      itemId,
      quantity: missing,
      unit: item.stockUnit,
      dueOn: build.dueOn,
      siteId: build.siteId,
      forBuildId: build.id,
    })
    const done = await completeBuild(tx, actor, child.id, {
      version: 1,
      binId: edit.binId,
      lot: '',
      expiresOn: null,
      withSubAssemblies: true,
      isUsedAtOnce: true,
    })
    made.push(...done.withSubAssemblies, {
      id: child.id,
      number: child.number,
      code: item.code,
      quantity: toText(missing),
    })
  }
  return made
}
