import { ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { pick } from '~~/core/stock'
import type { Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { lots } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { CompleteBreakDown } from '~~/shared/workshop/requests'
import { asNumeric, readIfGiven, type MeasuredItem } from '../catalogue/measured-items'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { post, type DraftMove } from '../../ledger/post'
import type { StockedPickable } from '../stock/pickable'
import { pickableAt } from './allocate-build'
import { loadRecipes, takeOf, lossOf, type BoundRecipe, givesOf } from './break-downs'
import { saveDocument, lockAsSeen } from '../../documents'

/**
 * Breaks bulk down: the outputs share its value by their stated shares, and carry its lot, expiry and traits on, or get
 * the job's own lot number. A recipe's loss is borne by them, or goes off the books.
 */
export async function completeBreakDown(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; binId: number } & Partial<Pick<CompleteBreakDown, 'balanceId' | 'ownLots' | 'outputs'>>,
): Promise<{ postingId: number; lots: string[] }> {
  const job = await lockAsSeen(tx, 'break-down', id, edit.version, ['planned'])
  const recipe = (await loadRecipes(tx)).get(job.recipeId)!
  const times = ratio(job.times)
  const target = await bin(tx, edit.binId, 'binId', 'receive')
  const stock = (await pickableAt(tx, job.siteId, [recipe.bulk.id])).get(recipe.bulk.id)!
  const take = takeOf(recipe, times)
  const sources = sourcesOf(recipe.bulk, take, edit.balanceId ?? null, stock, actor.today)
  const known = await tx
    .select()
    .from(lots)
    .where(anyOf(lots.id, [0, ...sources.map((source) => Number(source.lot ?? 0))]))
  const taken = await takenOf(tx, recipe, sources, recipe.lossWrittenOff ? lossOf(recipe, times) : ZERO)
  const workshop = await externalPlace(tx, 'workshop')
  const given: DraftMove[] = []
  const carried = new Set<string>()
  for (const output of cameOut(recipe, times, edit.outputs ?? [])) {
    for (const { source, quantity } of sharesOf(output, sources, take)) {
      const lot = known.find((row) => row.id === Number(source.lot ?? 0))
      const number = edit.ownLots ? job.number : (lot?.number ?? job.number)
      const move = await outputMove(tx, output, quantity, { number, lot, today: actor.today }, { workshop, target })
      given.push(move)
      if (move.lotId !== null) {
        carried.add(number)
      }
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
  await saveDocument(tx, actor, 'break-down', job, { set: { status: 'done' } })
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

type Output = ReturnType<typeof givesOf>[number]

/**
 * What of an output comes from each of the goods that were taken, by how much of them; the last gives what rounding
 * leaves.
 */
function sharesOf(
  output: Output,
  sources: readonly Source[],
  take: Ratio,
): readonly { readonly source: Source; readonly quantity: Ratio }[] {
  let left = output.quantity
  const shares = sources.map((source, index) => {
    const share = output.quantity.mul(source.quantity).div(take)
    const isLast = index === sources.length - 1
    const quantity = isLast ? left : toSteps(share, output.item.measure.finestStep, 'recorded').quantity
    left = left.sub(quantity)
    return { source, quantity }
  })
  return shares.filter((share) => share.quantity.compare(ZERO) > 0)
}

/** Brings some of an output in, with the expiry and the traits of the lot that it was part of. */
async function outputMove(
  tx: Tx,
  { item, share, quantity: whole }: Output,
  quantity: Ratio,
  origin: { readonly number: string; readonly lot: typeof lots.$inferSelect | undefined; readonly today: string },
  ends: { readonly workshop: DraftMove['from']; readonly target: DraftMove['to'] },
): Promise<DraftMove> {
  const traits = origin.lot?.traits ?? {}
  const lotId = await lotToEnter(
    tx,
    item,
    origin.number,
    {
      expiresOn: origin.lot?.expiresOn ?? null,
      receivedOn: origin.lot?.receivedOn ?? origin.today,
      traits,
      supplierNumber: origin.lot?.supplierNumber ?? '',
    },
    'lot',
  )
  const pieceId = await pieceToEnter(tx, item, { label: '', lotId, measure: asNumeric(quantity), traits }, 'binId')
  return {
    itemId: item.id,
    lotId,
    pieceId,
    quantity,
    from: ends.workshop,
    to: ends.target,
    entered: toText(quantity),
    unit: item.stockUnit,
    residue: ZERO,
    valuation: { kind: 'share', weight: share.mul(quantity).div(whole) },
  }
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

function cameOut(recipe: BoundRecipe, times: Ratio, entered: CompleteBreakDown['outputs']): ReturnType<typeof givesOf> {
  return givesOf(recipe, times)
    .map((output) => {
      const index = entered.findIndex((entry) => entry.itemId === output.item.id)
      if (index < 0) {
        return output
      }
      const { quantity, unit } = entered[index]!
      const read = readIfGiven(output.item, quantity, unit, `outputs.${index}.quantity`)
      return { ...output, quantity: read?.quantity ?? ZERO }
    })
    .filter((output) => output.quantity.compare(ZERO) > 0)
}
