import { inArray, sql, type SQL } from 'drizzle-orm'
import { issue, receive, shareOut, takeBack, type Holding } from '~~/core/costing'
import { applyMoves, type Balance, type StockMove } from '~~/core/stock'
import { parts, ratio, ZERO, type Ratio } from '~~/core/units'
import { rows, type Tx } from '~~/server/database/client'
import { places, postings } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import { asNumeric } from '../catalogue/frames'
import { shortRefusal } from './short-refusal'

export type Status = Balance['status']
export interface End { readonly placeId: number, readonly status: Status | null }

/** How a line gets its value: at the moving average, a stated one, back at what it came for, or a share of what this posting issued. */
export type Valuation =
  | { readonly kind: 'average' }
  | { readonly kind: 'stated', readonly value: bigint }
  | { readonly kind: 'back', readonly value: bigint }
  | { readonly kind: 'share', readonly weight: Ratio }

export interface DraftMove {
  readonly itemId: number
  readonly lotId: number | null
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
  readonly document?: { readonly kind: string, readonly id: number }
  readonly reason?: string
  readonly effectiveOn: string
  readonly workValue?: bigint
  readonly reverses?: number
  readonly moves: readonly DraftMove[]
}

export interface Posted { readonly postingId: number, readonly values: readonly bigint[], readonly variances: readonly bigint[] }

/**
 * Records a posting: all of its moves, the balances and the values, or nothing.
 *
 * Rows are locked in one fixed order (values by item and site, then balances by item, bin, lot and status), so that postings
 * cannot wait for each other in a circle. Core decides; a line that would take more than is free refuses the whole.
 */
export async function post(tx: Tx, actor: Actor, draft: Draft): Promise<Posted> {
  const placeRows = await tx.select().from(places).where(inArray(places.id, [...new Set(draft.moves.flatMap(m => [m.from.placeId, m.to.placeId]))]))
  const place = new Map(placeRows.map(p => [p.id, p]))
  const siteOf = (end: End): number | null => place.get(end.placeId)!.siteId
  const holdings = await lockHoldings(tx, draft.moves.flatMap(m => [m.from, m.to].flatMap((end) => { const site = siteOf(end); return site === null ? [] : [{ item: m.itemId, site }] })))
  const balances = await lockBalances(tx, draft.moves, end => siteOf(end) !== null)

  const applied = applyMoves(balances.map(b => b.balance), draft.moves.map(m => asStockMove(m, end => siteOf(end) !== null)))
  if (!applied.ok) throw await shortRefusal(tx, applied.error)
  const { values, variances } = valueMoves(draft, holdings, siteOf)

  const [posting] = await tx.insert(postings).values({
    kind: draft.kind, label: draft.label, documentKind: draft.document?.kind ?? null, documentId: draft.document?.id ?? null, reason: draft.reason ?? '',
    effectiveOn: draft.effectiveOn, userId: actor.userId, workValue: draft.workValue ?? 0n, reversesId: draft.reverses ?? null,
  }).returning({ id: postings.id })
  const moveRows = draft.moves.map((m, line) => {
    const residue = parts(m.residue)
    return sql`(${posting!.id}, ${line + 1}, ${m.itemId}, ${m.lotId}::int, ${asNumeric(m.quantity)}::numeric, ${m.from.placeId}, ${m.from.status}::text, ${m.to.placeId}, ${m.to.status}::text, ${m.entered}, ${m.unit},
      ${residue.n.toString()}::numeric, ${residue.d.toString()}::numeric, ${values[line]!.toString()}::bigint, ${variances[line]!.toString()}::bigint, ${m.lineId ?? null}::int)`
  })
  await tx.execute(sql`insert into moves (posting_id, line, item_id, lot_id, quantity, from_place_id, from_status, to_place_id, to_status, entered_quantity, entered_unit, residue_numerator, residue_denominator, value, variance, document_line_id)
    values ${sql.join(moveRows, sql`, `)}`)
  const ids = new Map(balances.map(b => [keyText(b.balance), b.id]))
  const changed = applied.value.map(b => sql`(${ids.get(keyText(b))!}::int, ${asNumeric(b.onHand)}::numeric, ${asNumeric(b.allocated)}::numeric)`)
  await tx.execute(sql`update balances set on_hand = v.on_hand, allocated = v.allocated from (values ${sql.join(changed, sql`, `)}) as v(id, on_hand, allocated) where balances.id = v.id`)
  const held = [...holdings].map(([key, h]) => sql`(${Number(key.split('|')[0])}::int, ${Number(key.split('|')[1])}::int, ${asNumeric(h.quantity)}::numeric, ${h.value.toString()}::bigint)`)
  await tx.execute(sql`update holdings set quantity = v.quantity, value = v.value from (values ${sql.join(held, sql`, `)}) as v(item_id, site_id, quantity, value) where holdings.item_id = v.item_id and holdings.site_id = v.site_id`)
  return { postingId: posting!.id, values, variances }
}

function valueMoves(draft: Draft, holdings: Map<string, Holding>, siteOf: (end: End) => number | null): { values: bigint[], variances: bigint[] } {
  const values = draft.moves.map(() => 0n)
  const variances = draft.moves.map(() => 0n)
  let issued = draft.workValue ?? 0n
  draft.moves.forEach((m, line) => {
    const [from, to] = [siteOf(m.from), siteOf(m.to)]
    if (from === null) return
    const key = `${m.itemId}|${from}`
    const holding = holdings.get(key)!
    if (from === to) { values[line] = issue(holding, m.quantity).value; return }
    const out = m.valuation.kind === 'back' ? takeBack(holding, m.quantity, m.valuation.value) : { ...issue(holding, m.quantity), variance: 0n }
    holdings.set(key, out.rest)
    values[line] = out.value
    variances[line] = out.variance
    issued += out.value
    if (to !== null) { const there = `${m.itemId}|${to}`; holdings.set(there, receive(holdings.get(there)!, m.quantity, out.value)) }
  })
  const shared = draft.moves.flatMap((m, line) => m.valuation.kind === 'share' ? [{ line, weight: m.valuation.weight }] : [])
  const shares = shared.length > 0 ? shareOut(issued, shared.map(s => s.weight)) : []
  shared.forEach((s, i) => { values[s.line] = shares[i]! })
  draft.moves.forEach((m, line) => {
    const to = siteOf(m.to)
    if (siteOf(m.from) !== null || to === null) return
    const key = `${m.itemId}|${to}`
    const holding = holdings.get(key)!
    if (m.valuation.kind === 'stated' || m.valuation.kind === 'back') values[line] = m.valuation.value
    else if (m.valuation.kind === 'average' && !holding.quantity.equals(ZERO)) values[line] = issue(holding, m.quantity).value
    holdings.set(key, receive(holding, m.quantity, values[line]!))
  })
  return { values, variances }
}

function asStockMove(m: DraftMove, isBin: (end: End) => boolean): StockMove {
  const end = (e: End): StockMove['from'] => isBin(e) ? { bin: String(e.placeId), status: e.status ?? 'available' } : null
  return { item: String(m.itemId), lot: m.lotId === null ? null : String(m.lotId), quantity: m.quantity, from: end(m.from), to: end(m.to), released: m.released ?? ZERO }
}

const keyText = (b: Pick<Balance, 'item' | 'bin' | 'lot' | 'status'>): string => [b.item, b.bin, b.lot ?? '', b.status].join('|')

async function lockHoldings(tx: Tx, wanted: readonly { item: number, site: number }[]): Promise<Map<string, Holding>> {
  if (wanted.length === 0) return new Map()
  const keys = [...new Set(wanted.map(w => `${w.item}|${w.site}`))].map(k => k.split('|').map(Number) as [number, number]).sort((a, b) => a[0] - b[0] || a[1] - b[1])
  const list = sql.join(keys.map(([item, site]) => sql`(${item}::int, ${site}::int)`), sql`, `)
  await tx.execute(sql`insert into holdings (item_id, site_id) select * from (values ${list}) v order by 1, 2 on conflict do nothing`)
  const found = await rows<{ item: number, site: number, quantity: string, value: string }>(tx, sql`
    select item_id as item, site_id as site, quantity, value from holdings where (item_id, site_id) in (${list}) order by item_id, site_id for update`)
  return new Map(found.map(h => [`${h.item}|${h.site}`, { quantity: ratio(h.quantity), value: BigInt(h.value) }]))
}

export interface LockedBalance { readonly id: number, readonly balance: Balance }

async function lockBalances(tx: Tx, moves: readonly DraftMove[], isBin: (end: End) => boolean): Promise<LockedBalance[]> {
  const keys = new Map<string, SQL>()
  for (const m of moves) {
    for (const end of [m.from, m.to]) {
      if (isBin(end)) keys.set(`${m.itemId}|${end.placeId}|${m.lotId}|${end.status}`, sql`(${m.itemId}::int, ${end.placeId}::int, ${m.lotId}::int, ${end.status ?? 'available'}::text)`)
    }
  }
  if (keys.size === 0) return []
  const list = sql.join([...keys.values()], sql`, `)
  await tx.execute(sql`insert into balances (item_id, place_id, lot_id, status) select * from (values ${list}) v order by 1, 2, 3, 4 on conflict do nothing`)
  return readBalances(tx, sql`exists (select 1 from (values ${list}) v(i, p, l, s) where b.item_id = v.i and b.place_id = v.p and b.lot_id is not distinct from v.l and b.status = v.s)`)
}

/** Balances that meet a condition on `b`, locked in the fixed order. */
export async function readBalances(tx: Tx, condition: SQL): Promise<LockedBalance[]> {
  const found = await rows<{ id: number, item: number, place: number, lot: number | null, status: Status, onHand: string, allocated: string }>(tx, sql`
    select b.id, b.item_id as item, b.place_id as place, b.lot_id as lot, b.status, b.on_hand as "onHand", b.allocated from balances b where ${condition}
    order by b.item_id, b.place_id, b.lot_id, b.status for update`)
  return found.map(b => ({ id: b.id, balance: { item: String(b.item), bin: String(b.place), lot: b.lot === null ? null : String(b.lot), status: b.status, onHand: ratio(b.onHand), allocated: ratio(b.allocated) } }))
}
