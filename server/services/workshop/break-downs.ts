import { eq, sql } from 'drizzle-orm'
import { ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units'
import { pick } from '~~/core/stock'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { breakDowns, lots } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { CompleteBreakDown } from '~~/shared/workshop'
import {
  asNumeric,
  loadMeasuredItems,
  readQuantity,
  requireUsable,
  type MeasuredItem,
} from '../catalogue/measured-items'
import { nextNumber, noteChange, requireVersion } from '../company/command'
import { loadPostings } from '../stock/postings'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import { bin, externalPlace } from '../stock/external-places'
import { post, type DraftMove } from '../stock/post'
import type { StockedPickable } from '../stock/pickable'
import { bindBreakDowns } from '../structure/load-structure'
import { previewTakes } from './preview-takes'
import { pickableAt } from './allocate-build'

export interface BoundRecipe {
  readonly id: number
  readonly onArrival: boolean
  readonly bulk: MeasuredItem
  readonly take: Ratio
  readonly loss: Ratio
  readonly lossWrittenOff: boolean
  readonly outputs: readonly { readonly item: MeasuredItem; readonly quantity: Ratio; readonly share: Ratio }[]
}

/** Ways of breaking down with exact quantities in stock units, by their ids, first ways first; those with a unit that cannot be converted are left out. */
export async function loadRecipes(reader: Reader): Promise<Map<number, BoundRecipe>> {
  const concerned = await rows<{ id: number }>(
    reader,
    sql`select item_id as id from recipes union select item_id from recipe_outputs`,
  )
  const items = await loadMeasuredItems(
    reader,
    concerned.map((row) => row.id),
  )
  const itemOf = (item: string): MeasuredItem => items.get(Number(item))!
  return new Map(
    (await bindBreakDowns(reader, items)).map((recipe) => [
      recipe.id,
      {
        ...recipe,
        bulk: itemOf(recipe.bulk),
        outputs: recipe.outputs.map((o) => ({ item: itemOf(o.item), quantity: o.quantity, share: o.share })),
      },
    ]),
  )
}

const takeOf = (recipe: BoundRecipe, times: Ratio): Ratio =>
  toSteps(recipe.take.mul(times), recipe.bulk.measure.finestStep, 'required').quantity
const lossOf = (recipe: BoundRecipe, times: Ratio): Ratio =>
  toSteps(recipe.loss.mul(times), recipe.bulk.measure.finestStep, 'recorded').quantity
const givesOf = (recipe: BoundRecipe, times: Ratio) =>
  recipe.outputs.map((o) => ({
    ...o,
    quantity: toSteps(o.quantity.mul(times), o.item.measure.finestStep, 'recorded').quantity,
  }))

interface NewJob {
  readonly itemId: number
  readonly recipeId?: number | undefined
  readonly times: string | number
  readonly dueOn: string
  readonly siteId?: number | null
  readonly arrivalId?: number
}

export async function createBreakDown(tx: Tx, actor: Actor, edit: NewJob): Promise<{ id: number; number: string }> {
  const recipe = [...(await loadRecipes(tx)).values()].find(
    (recipe) => recipe.bulk.id === edit.itemId && (edit.recipeId === undefined || recipe.id === edit.recipeId),
  )
  if (!recipe) {
    throw new Refusal('invalid-input', 'This item has no break-down recipe. Write one on its page.', {
      itemId: 'This item has no break-down recipe. Write one on its page.',
    })
  }
  requireUsable(recipe.bulk, 'itemId', 'any')
  const [site] = await rows<{ id: number }>(
    tx,
    sql`
      select id
      from sites
      where not retired and (${edit.siteId ?? null}::int is null or id = ${edit.siteId ?? null})
      order by id
      limit 1`,
  )
  if (!site) {
    throw new Refusal('invalid-input', 'Choose a site.', { siteId: 'Choose a site.' })
  }
  const number = await nextNumber(tx, 'BD')
  const [job] = await tx
    .insert(breakDowns)
    .values({
      number,
      recipeId: recipe.id,
      itemId: edit.itemId,
      siteId: site.id,
      times: String(edit.times),
      dueOn: edit.dueOn,
      arrivalId: edit.arrivalId ?? null,
    })
    .returning()
  await noteChange(tx, actor, 'break-down', job!.id, null, { ...edit, number })
  return { id: job!.id, number }
}

export async function loadBreakDown(id: number, today: string) {
  const [job] = await rows<{
    id: number
    number: string
    itemId: number
    recipeId: number
    siteId: number
    site: string
    code: string
    name: string
    symbol: string
    times: string
    dueOn: string
    status: string
    version: number
  }>(
    db,
    sql`
      select
        b.id, b.number, b.item_id as "itemId", b.recipe_id as "recipeId", b.site_id as "siteId", s.name as site,
        i.code, i.name, u.symbol, b.times, b.due_on as "dueOn", b.status, b.version
      from break_downs b
      join sites s on s.id = b.site_id
      join items i on i.id = b.item_id
      join units u on u.code = i.stock_unit
      where b.id = ${id}`,
  )
  if (!job) {
    throw new Refusal('not-found', 'There is no such break-down.')
  }
  const recipe = (await loadRecipes(db)).get(job.recipeId)
  if (!recipe) {
    throw new Refusal('not-now', `${job.code} has no recipe that can be worked out. Look at its units.`)
  }
  const held = await rows<{ itemId: number; onHand: string }>(
    db,
    sql`
      select b.item_id as "itemId", sum(b.on_hand) as "onHand"
      from balances b
      join places p on p.id = b.place_id
      where b.status = 'available'
        and p.site_id = ${job.siteId}
        and b.item_id in (
          ${sql.join(
            recipe.outputs.map((o) => sql`${o.item.id}`),
            sql`, `,
          )}
        )
      group by 1`,
  )
  const times = ratio(job.times)
  const outputs = givesOf(recipe, times).map((o) => {
    const before = held.find((h) => h.itemId === o.item.id)?.onHand ?? '0'
    return {
      itemId: o.item.id,
      code: o.item.code,
      name: o.item.name,
      symbol: o.item.symbol,
      unit: o.item.stockUnit,
      tracking: o.item.tracking,
      quantity: toText(o.quantity),
      before,
      after: toText(ratio(before).add(o.quantity)),
    }
  })
  const stock = (await pickableAt(db, job.siteId, [job.itemId])).get(job.itemId)!
  const take = takeOf(recipe, times)
  return {
    ...job,
    take: toText(take),
    loss: toText(lossOf(recipe, times)),
    lossWrittenOff: recipe.lossWrittenOff,
    outputs,
    postings: await loadPostings('break-down', id),
    components: job.status === 'planned' ? [previewTakes(recipe.bulk, take, stock, today)] : [],
    choices:
      job.status !== 'planned'
        ? []
        : stock
            .filter((goods) => goods.status === 'available' && goods.onHand.compare(goods.allocated) > 0)
            .map((goods) => ({
              balanceId: goods.balanceId,
              bin: goods.binName,
              lot: goods.lotNumber,
              piece: goods.pieceLabel,
              expiresOn: goods.expiresOn,
              free: toText(goods.onHand.sub(goods.allocated)),
            })),
  }
}

/**
 * Breaks bulk down: the outputs share its value by their stated shares, and carry its lot, expiry and traits on, or get the job's own
 * lot number. A recipe's loss is borne by them, or goes off the books.
 */
export async function completeBreakDown(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; binId: number } & Partial<Pick<CompleteBreakDown, 'balanceId' | 'ownLots' | 'outputs'>>,
): Promise<{ postingId: number; lots: string[] }> {
  const job = await lockPlanned(tx, id, edit.version)
  const recipe = (await loadRecipes(tx)).get(job.recipeId)!
  const times = ratio(job.times)
  const target = await bin(tx, edit.binId, 'binId', 'receive')
  const stock = (await pickableAt(tx, job.siteId, [recipe.bulk.id])).get(recipe.bulk.id)!
  const take = takeOf(recipe, times)
  const sources = sourcesOf(recipe.bulk, take, edit.balanceId ?? null, stock, actor.today)
  const known = await tx
    .select()
    .from(lots)
    .where(
      sql`
        ${lots.id} in (
          ${sql.join(
            [0, ...sources.map((source) => Number(source.lot ?? 0))].map((lot) => sql`${lot}`),
            sql`, `,
          )}
        )`,
    )
  const taken = await takenOf(tx, recipe, sources, recipe.lossWrittenOff ? lossOf(recipe, times) : ZERO)
  const workshop = await externalPlace(tx, 'workshop')
  const given: DraftMove[] = []
  const carried = new Set<string>()
  for (const output of cameOut(recipe, times, edit.outputs ?? [])) {
    let left = output.quantity
    for (const [index, source] of sources.entries()) {
      const part =
        index === sources.length - 1
          ? left
          : toSteps(output.quantity.mul(source.quantity).div(take), output.item.measure.finestStep, 'recorded').quantity
      left = left.sub(part)
      if (part.compare(ZERO) <= 0) {
        continue
      }
      const from = known.find((lot) => lot.id === Number(source.lot ?? 0))
      const number = edit.ownLots ? job.number : (from?.number ?? job.number)
      const lotId = await lotToEnter(
        tx,
        output.item,
        number,
        {
          expiresOn: from?.expiresOn ?? null,
          receivedOn: from?.receivedOn ?? actor.today,
          traits: from?.traits ?? {},
          supplierNumber: from?.supplierNumber ?? '',
        },
        'lot',
      )
      if (lotId !== null) {
        carried.add(number)
      }
      const pieceId = await pieceToEnter(
        tx,
        output.item,
        { label: '', lotId, measure: asNumeric(part), traits: from?.traits ?? {} },
        'binId',
      )
      given.push({
        itemId: output.item.id,
        lotId,
        pieceId,
        quantity: part,
        from: workshop,
        to: target,
        entered: toText(part),
        unit: output.item.stockUnit,
        residue: ZERO,
        valuation: { kind: 'share', weight: output.share.mul(part).div(output.quantity) },
      })
    }
  }
  if (given.length === 0) {
    throw new Refusal('invalid-input', 'Nothing came out. Correct the stock of the bulk item instead.', {
      'outputs.0.quantity': 'Give what came out.',
    })
  }
  const posted = await post(tx, actor, {
    kind: 'break-down',
    label: `Break-down ${job.number} of ${toText(take)} ${recipe.bulk.symbol} ${recipe.bulk.code}`,
    document: { kind: 'break-down', id },
    effectiveOn: actor.today,
    moves: [...taken, ...given],
  })
  await tx
    .update(breakDowns)
    .set({ status: 'done', version: job.version + 1 })
    .where(eq(breakDowns.id, id))
  await noteChange(
    tx,
    actor,
    'break-down',
    id,
    { status: job.status, version: job.version },
    { status: 'done', version: job.version + 1 },
  )
  return { postingId: posted.postingId, lots: [...carried] }
}

type Source = StockedPickable & { readonly quantity: Ratio }

/** The bulk goods that are taken: those that were chosen, or by the picking order. */
function sourcesOf(
  bulk: MeasuredItem,
  take: Ratio,
  balanceId: number | null,
  stock: readonly StockedPickable[],
  today: string,
): readonly Source[] {
  const from =
    balanceId === null
      ? stock
      : stock
          .filter((goods) => goods.balanceId === balanceId)
          .map((goods) => ({ ...goods, closedToPicking: false, expiresOn: null }))
  const { picks, missing } = pick(from, take, today)
  if (missing.compare(ZERO) <= 0) {
    return picks
  }
  const detail = `${bulk.code} ${bulk.name}: ${toText(take)} ${bulk.symbol} needed, ${toText(take.sub(missing))} ${bulk.symbol} free; ${toText(missing)} ${bulk.symbol} missing.`
  throw new Refusal('short', detail, balanceId === null ? undefined : { balanceId: detail })
}

/** Bulk goes to the workshop; a loss that is written off goes to corrections, out of the last goods first. */
async function takenOf(tx: Tx, { bulk }: BoundRecipe, sources: readonly Source[], loss: Ratio): Promise<DraftMove[]> {
  const [workshop, correction] = [await externalPlace(tx, 'workshop'), await externalPlace(tx, 'correction')]
  let lost = loss
  return [...sources].reverse().flatMap((source): DraftMove[] => {
    const away = lost.compare(source.quantity) < 0 ? lost : source.quantity
    lost = lost.sub(away)
    const base = {
      itemId: bulk.id,
      lotId: source.lot === null ? null : Number(source.lot),
      pieceId: source.piece === null ? null : Number(source.piece),
      from: { placeId: Number(source.bin), status: 'available' as const },
      unit: bulk.stockUnit,
      residue: ZERO,
      valuation: { kind: 'method' as const },
    }
    return [
      { ...base, quantity: source.quantity.sub(away), to: workshop },
      { ...base, quantity: away, to: correction },
    ]
      .filter((move) => move.quantity.compare(ZERO) > 0)
      .map((move) => ({ ...move, entered: toText(move.quantity) }))
  })
}

function cameOut(recipe: BoundRecipe, times: Ratio, said: CompleteBreakDown['outputs']): ReturnType<typeof givesOf> {
  return givesOf(recipe, times)
    .map((output) => {
      const index = said.findIndex((entry) => entry.itemId === output.item.id)
      if (index < 0) {
        return output
      }
      const typed = said[index]!.quantity.trim()
      return {
        ...output,
        quantity:
          typed === '' || typed === '0'
            ? ZERO
            : readQuantity(output.item, typed, said[index]!.unit, `outputs.${index}.quantity`).quantity,
      }
    })
    .filter((output) => output.quantity.compare(ZERO) > 0)
}

export async function cancelBreakDown(tx: Tx, actor: Actor, id: number, version: number): Promise<{ id: number }> {
  const job = await lockPlanned(tx, id, version)
  await tx
    .update(breakDowns)
    .set({ status: 'cancelled', version: version + 1 })
    .where(eq(breakDowns.id, id))
  await noteChange(
    tx,
    actor,
    'break-down',
    id,
    { status: job.status, version },
    { status: 'cancelled', version: version + 1 },
  )
  return { id }
}

async function lockPlanned(tx: Tx, id: number, version: number) {
  const [job] = await tx.select().from(breakDowns).where(eq(breakDowns.id, id)).for('update')
  if (!job) {
    throw new Refusal('not-found', 'There is no such break-down.')
  }
  await requireVersion(tx, 'break-down', id, version, job.version)
  if (job.status !== 'planned') {
    throw new Refusal('not-now', `${job.number} is ${job.status} already.`)
  }
  return job
}
