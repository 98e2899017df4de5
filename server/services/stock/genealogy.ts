import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Trace, TraceEdge, TraceNode } from '../../../shared/stock/answers'
import { describeNodes, type Reached } from './describe-trace'
import { possibleTakes, type QuantityOnly } from './possible-ways'
import { keyText, MOST, stepOf, stepOfTakes, type Key, type StepRow, type Take } from './trace-step'

/**
 * What a trail has reached so far; `entries`: acts that brought some of it among goods that are kept by quantity only.
 */
interface Trail {
  readonly reached: Map<string, Reached>
  readonly edges: Map<string, TraceEdge>
  readonly entries: Map<string, Take>
}

/**
 * Where goods came from (`back`) or what they went into (`forward`), through any number of levels.
 *
 * Level by level: what acts took a lot or piece into work, or brought it out of it, and what else those acts brought or
 * took. Acts that were reversed are left out. Where the way leads forward through goods without lot or piece, it goes
 * on as possible: through every act that took of them until first in, first out would have used them up. Cost: one
 * indexed query a level, and the moves of each item that is kept by quantity only.
 */
export async function traceGoods(
  start: { lot: number | null; piece: number | null },
  direction: 'back' | 'forward',
): Promise<Trace> {
  const front = await startOf(start)
  const trail: Trail = {
    reached: new Map(front.map((key) => [keyText(key), { key, level: 0, possible: false }])),
    edges: new Map(),
    entries: new Map(),
  }
  await follow(trail, front, direction, false)
  const held = direction === 'forward' ? await followPossibly(trail) : new Map<number, QuantityOnly>()
  const nodes = await describeNodes([...trail.reached.values()])
  return {
    start: keyText(front[0]!),
    nodes: nodes.map((node) => withQuantityOnly(node, held)),
    edges: [...trail.edges.values()],
  }
}

/**
 * Goods without lot or piece: how much of the suspect may still be among them, and to whom some of it may have gone.
 */
function withQuantityOnly(node: TraceNode, held: ReadonlyMap<number, QuantityOnly>): TraceNode {
  const possibly = node.lotId === null && node.pieceId === null ? held.get(node.itemId) : undefined
  return possibly ? { ...node, onHand: possibly.left, shippedTo: possibly.shippedTo } : node
}

/** Follows lots and pieces as far as they go. */
async function follow(
  trail: Trail,
  begin: readonly Key[],
  direction: 'back' | 'forward',
  possible: boolean,
): Promise<void> {
  let front = begin
  while (front.length > 0 && trail.reached.size < MOST) {
    front = take(trail, await stepOf(front, direction), direction, possible)
  }
}

/** Follows goods that are kept by quantity only, until nothing new turns up. */
async function followPossibly(trail: Trail): Promise<Map<number, QuantityOnly>> {
  const seen = new Set<string>()
  const held = new Map<number, QuantityOnly>()
  for (;;) {
    const fresh = [...trail.entries].filter(([name]) => !seen.has(name))
    if (fresh.length === 0 || trail.reached.size >= MOST) {
      return held
    }
    fresh.forEach(([name]) => seen.add(name))
    const takes = await possibleTakes(
      fresh.map(([, entry]) => entry),
      held,
    )
    await follow(trail, take(trail, await stepOfTakes(takes), 'forward', true), 'forward', true)
  }
}

/** Takes up what a step found; answers the lots and pieces that are new. */
function take(trail: Trail, found: readonly StepRow[], direction: 'back' | 'forward', possible: boolean): Key[] {
  const next: Key[] = []
  for (const row of found) {
    const far: Key = { item: row.otherItem, lot: row.otherLot, piece: row.otherPiece }
    const edge = edgeOf(row, far, direction, possible)
    if (edge.from === edge.to) {
      continue
    }
    const name = `${edge.from} ${edge.to} ${row.postingId}`
    trail.edges.set(name, trail.edges.get(name) ?? edge)
    const isQuantityOnly = far.lot === null && far.piece === null
    if (isQuantityOnly) {
      row.otherPostingIds.forEach((posting) => trail.entries.set(`${far.item} ${posting}`, { item: far.item, posting }))
    }
    if (trail.reached.has(keyText(far))) {
      continue
    }
    const near = trail.reached.get(keyText({ item: row.item, lot: row.lot, piece: row.piece }))
    trail.reached.set(keyText(far), { key: far, level: (near?.level ?? 0) + 1, possible })
    if (!isQuantityOnly) {
      next.push(far)
    }
  }
  return next
}

/** What is asked about; all pieces of a lot are that lot. Throws `not-found`. */
async function startOf(start: { lot: number | null; piece: number | null }): Promise<Key[]> {
  if (start.piece !== null) {
    const found = await rows<Key>(
      db,
      sql`select item_id as item, lot_id as lot, id as piece from pieces where id = ${start.piece}`,
    )
    if (found.length === 0) {
      throw new Refusal('not-found', 'There is no such piece.')
    }
    return found
  }
  const lots = await rows<Key>(
    db,
    sql`select item_id as item, id as lot, null::int as piece from lots where id = ${start.lot}`,
  )
  if (lots.length === 0) {
    throw new Refusal('not-found', 'There is no such lot.')
  }
  const pieces = await rows<Key>(
    db,
    sql`select item_id as item, lot_id as lot, id as piece from pieces where lot_id = ${start.lot}`,
  )
  return [...lots, ...pieces]
}

function edgeOf(row: StepRow, far: Key, direction: 'back' | 'forward', possible: boolean): TraceEdge {
  const near: Key = { item: row.item, lot: row.lot, piece: row.piece }
  const act = { postingId: row.postingId, label: row.label, on: row.on, possible }
  return direction === 'forward'
    ? { from: keyText(near), to: keyText(far), ...act, quantity: row.quantity, symbol: row.symbol }
    : { from: keyText(far), to: keyText(near), ...act, quantity: row.otherQuantity, symbol: row.otherSymbol }
}
