import { sql } from 'drizzle-orm'
import { NEW_JOB, type Basis, type CostMove, type PoolState } from '~~/core/costing'
import { applyMoves, type Balance, type StockMove } from '~~/core/stock'
import { parts, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import type { Actor } from '~~/server/utils/route'
import { asNumeric } from '../services/catalogue/measured-items'
import { setsPrice } from './cost-history'
import { lockStock, poolKey, type End, type LockedStock, type Touched } from './lock-stock'
import { recordAdjustments, type Revalued } from './record-adjustments'
import { requireOpenDay, requireThereThen } from './requirements'
import { shortRefusal } from './short-refusal'
import { heldRows, workOut } from './work-out'

export type { End, Status } from './lock-stock'

/**
 * How a line gets its value: by the method, a stated amount, a share of all that is in work or a fraction of it, or by
 * what it takes back.
 */
export type Valuation =
  | { readonly kind: 'method' }
  | { readonly kind: 'stated'; readonly value: bigint }
  | { readonly kind: 'back'; readonly of: number }
  | { readonly kind: 'share' | 'part'; readonly weight: Ratio }

export interface DraftMove {
  readonly itemId: number
  readonly lotId: number | null
  readonly pieceId?: number | null
  readonly quantity: Ratio
  readonly from: End
  readonly to: End
  readonly entered: string
  readonly unit: string
  readonly residue: Ratio
  readonly released?: Ratio
  readonly valuation: Valuation
  readonly lineId?: number
}

export interface Draft {
  readonly kind: string
  readonly label: string
  readonly document?: { readonly kind: string; readonly id: number }
  readonly reason?: string
  readonly effectiveOn: string
  readonly workValue?: bigint
  readonly reverses?: number
  readonly moves: readonly DraftMove[]
}

/** `revalued` is what earlier moves turned out to be worth more or less by it, in minor units by account. */
export interface Posted {
  readonly postingId: number
  readonly moveIds: readonly number[]
  readonly values: readonly bigint[]
  readonly revalued: Revalued
}

/**
 * Records a posting: all of its moves, the balances and the values, or nothing.
 *
 * Rows are locked in one fixed order, so that postings cannot wait for each other in a circle. Core decides; a line
 * that would take more than is free refuses the whole. What is entered for an earlier day, or takes an act back, works
 * the cost of what followed out again.
 */
export async function post(tx: Tx, actor: Actor, draft: Draft): Promise<Posted> {
  const isBackdated = draft.effectiveOn < actor.today || draft.reverses !== undefined
  const touched = draft.moves.flatMap((move) =>
    [move.from, move.to].map((end): Touched => ({
      itemId: move.itemId,
      lotId: move.lotId,
      pieceId: move.pieceId ?? null,
      line: move.lineId ?? 0,
      end,
    })),
  )
  const stock = await lockStock(tx, touched, { exclusive: isBackdated, on: draft.effectiveOn })
  requireOpenDay(draft.effectiveOn, stock.closedThrough, actor.today)
  const inStock = (end: End): boolean => ['bin', 'transit'].includes(stock.places.get(end.placeId)!.kind)
  const applied = applyMoves(
    stock.balances.map((b) => b.balance),
    draft.moves.map((move) => asStockMove(move, inStock)),
  )
  if (!applied.ok) {
    throw await shortRefusal(tx, applied.error)
  }
  if (draft.effectiveOn < actor.today) {
    await requireThereThen(
      tx,
      draft.moves.filter((move) => inStock(move.from)),
      draft.effectiveOn,
    )
  }

  const isBehind =
    isBackdated || [...stock.pools.values()].some((pool) => pool.lastOn !== null && pool.lastOn > draft.effectiveOn)
  if (isBehind && !isBackdated) {
    await lockExclusively(tx)
  }
  const moves = draft.moves.map((move, line) => asCostMove(draft, move, line, stock))
  const worked = await workOut(tx, [], { moves, work: draft.workValue ?? 0n }, isBehind ? null : stock)
  const values = moves.map((move) => worked.moves.get(move.id)!.now)

  const ids = new Map(stock.balances.map((b) => [keyText(b.balance), b.id]))
  const balances = applied.value.map((b) => ({
    id: ids.get(keyText(b))!,
    on_hand: asNumeric(b.onHand),
    allocated: asNumeric(b.allocated),
  }))
  const lines = draft.moves.map((move, line) => {
    const [residue, weight] = [parts(move.residue), 'weight' in move.valuation ? parts(move.valuation.weight) : null]
    return {
      line: line + 1,
      item: move.itemId,
      lot: move.lotId,
      piece: move.pieceId ?? null,
      quantity: asNumeric(move.quantity),
      from_place: move.from.placeId,
      from_status: move.from.status,
      to_place: move.to.placeId,
      to_status: move.to.status,
      entered: move.entered,
      unit: move.unit,
      rn: residue.n.toString(),
      rd: residue.d.toString(),
      value: values[line]!.value.toString(),
      variance: values[line]!.variance.toString(),
      restated: values[line]!.restated.toString(),
      basis: moves[line]!.basis,
      wn: weight?.n.toString() ?? null,
      wd: weight?.d.toString() ?? null,
      reverses: move.valuation.kind === 'back' ? move.valuation.of : null,
      document_line: move.lineId ?? null,
    }
  })
  const [postingId, ...moveIds] = await recordPosting(tx, actor, draft, { lines, balances, pools: worked.pools })
  const revalued = isBehind ? await recordAdjustments(tx, postingId!, worked, stock.closedThrough) : []
  return { postingId: postingId!, moveIds, values: values.map((amounts) => amounts.value), revalued }
}

/** Posts an act that moves something; null where nothing moves. */
export const postIfAny = async (tx: Tx, actor: Actor, draft: Draft): Promise<Posted | null> =>
  draft.moves.length === 0 ? null : post(tx, actor, draft)

/** What an act leaves: rows of its moves and balances, and the state of the pools that it went through. */
interface Written {
  readonly lines?: readonly object[]
  readonly balances?: readonly object[]
  readonly pools?: ReadonlyMap<string, PoolState>
}

/** Writes an act with its moves, and the balances and pools that it leaves; answers the posting's id and its moves'. */
export async function recordPosting(
  tx: Tx,
  actor: Pick<Actor, 'userId'>,
  act: Omit<Draft, 'moves'>,
  { lines = [], balances = [], pools = new Map() }: Written = {},
): Promise<number[]> {
  const head = {
    kind: act.kind,
    label: act.label,
    document_kind: act.document?.kind ?? null,
    document_id: act.document?.id ?? null,
    reason: act.reason ?? '',
    effective_on: act.effectiveOn,
    user_id: actor.userId,
    work_value: (act.workValue ?? 0n).toString(),
    reverses_id: act.reverses ?? null,
  }
  const poolRows = heldRows(pools, act.effectiveOn)
  const [found] = await rows<{ ids: string[] }>(
    tx,
    sql`
      select record_posting(
        ${JSON.stringify(head)}::jsonb, ${JSON.stringify(lines)}::jsonb, ${JSON.stringify(balances)}::jsonb,
        ${JSON.stringify(poolRows)}::jsonb
      ) as ids`,
  )
  return found!.ids.map(Number)
}

/** Keeps all other postings out of what is left of this transaction; has it tried again where one is under way. */
async function lockExclusively(tx: Tx): Promise<void> {
  const [{ exclusive } = { exclusive: false }] = await rows<{ exclusive: boolean }>(
    tx,
    sql`select pg_try_advisory_xact_lock(7301) as exclusive`,
  )
  if (!exclusive) {
    throw Object.assign(new Error('Another posting is under way'), { cause: { code: '40001' } })
  }
}

function asCostMove(draft: Draft, move: DraftMove, line: number, stock: LockedStock): CostMove {
  const [from, to] = [stock.places.get(move.from.placeId)!, stock.places.get(move.to.placeId)!]
  const pool = (place: { kind: string; site: number | null }): string | null =>
    ['bin', 'transit'].includes(place.kind) ? poolKey(move.itemId, place.site, move.lineId ?? 0) : null
  const basis: Basis = move.valuation.kind === 'method' && pool(from) === null ? 'average' : move.valuation.kind
  let job
  if ([from.kind, to.kind].includes('workshop')) {
    if (draft.document === undefined) {
      job = NEW_JOB
    } else {
      job = `${draft.document.kind}/${draft.document.id}`
    }
  } else {
    job = null
  }
  return {
    id: `new:${line}`,
    day: draft.effectiveOn,
    posting: Number.MAX_SAFE_INTEGER,
    line,
    from: pool(from),
    to: pool(to),
    quantity: move.quantity,
    basis,
    stated: move.valuation.kind === 'stated' ? move.valuation.value : 0n,
    weight: 'weight' in move.valuation ? move.valuation.weight : ZERO,
    of: move.valuation.kind === 'back' ? String(move.valuation.of) : null,
    isPurchasePrice: setsPrice(from.kind, basis),
    job,
  }
}

function asStockMove(move: DraftMove, inStock: (end: End) => boolean): StockMove {
  const end = (e: End): StockMove['from'] =>
    inStock(e) ? { bin: String(e.placeId), status: e.status ?? 'available' } : null
  const text = (id: number | null | undefined): string | null => (id === null || id === undefined ? null : String(id))
  return {
    item: String(move.itemId),
    lot: text(move.lotId),
    piece: text(move.pieceId),
    quantity: move.quantity,
    from: end(move.from),
    to: end(move.to),
    released: move.released ?? ZERO,
  }
}

const keyText = (b: Pick<Balance, 'item' | 'bin' | 'lot' | 'piece' | 'status'>): string =>
  [b.item, b.bin, b.lot ?? '', b.piece ?? '', b.status].join('|')
