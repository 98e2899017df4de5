import { sql } from 'drizzle-orm'
import {
  revalue,
  type HistoryRequest,
  type LackedThen,
  type PoolHistory,
  type PoolState,
  type RecordedJob,
  type Revaluation,
} from '~~/core/costing'
import { parts } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { asNumeric } from '../services/catalogue/measured-items'
import { answerAsk } from './cost-history'
import { poolOf, type LockedStock } from './lock-stock'
import { lackedThenRefusal } from './short-refusal'

/**
 * Works out again, from all that was recorded of them, what pools and the jobs that their goods went into or came from
 * are worth.
 */
export const replay = (reader: Reader, pools: readonly string[]): Promise<Revaluation> =>
  run(
    reader,
    revalue(
      pools.map((pool) => ({ pool, from: null })),
      { moves: [], work: 0n },
      'with jobs',
    ),
    (ask) => answerAsk(reader, ask),
  )

/**
 * Runs the working out of cost, with the pools as they stand (`stock`) or, where something comes late, with all that
 * went through them.
 */
export async function workOut(
  tx: Tx,
  changed: Parameters<typeof revalue>[0],
  fresh: Parameters<typeof revalue>[1],
  stock: LockedStock | null,
  methodOf?: Parameters<typeof answerAsk>[2],
): Promise<Revaluation> {
  return run(tx, revalue(changed, fresh), async (ask) =>
    stock !== null && ask.kind === 'pool'
      ? { start: stock.pools.get(ask.key)!.state, moves: [], standards: [] }
      : answerAsk(tx, ask, methodOf),
  )
}

/** Errors: `short` where more leaves a pool on a day than it held then. */
async function run(
  reader: Reader,
  work: ReturnType<typeof revalue>,
  answer: (ask: HistoryRequest) => Promise<PoolHistory | RecordedJob>,
): Promise<Revaluation> {
  let step = work.next()
  while (!step.done) {
    step = work.next(await answer(step.value))
  }
  if (!step.value.ok) {
    throw await lackedThenRefusal(reader, step.value.error satisfies LackedThen)
  }
  return step.value.value
}

/** Pools as their rows have them. */
export function heldRows(pools: ReadonlyMap<string, PoolState>, lastOn: string | null): object[] {
  return [...pools].map(([key, state]) => {
    const unit = state.unit === null ? null : parts(state.unit)
    return {
      ...poolOf(key),
      quantity: asNumeric(state.quantity),
      value: state.value.toString(),
      n: unit?.n.toString() ?? null,
      d: unit?.d.toString() ?? null,
      last_on: lastOn,
      layers: state.layers.map((layer) => ({
        origin: layer.origin.startsWith('new') ? '' : layer.origin,
        on: layer.on,
        at: layer.at,
        quantity: asNumeric(layer.quantity),
        value: layer.value.toString(),
      })),
    }
  })
}

/** Writes pools as they stand after working out, without an act of their own. */
export async function writePools(tx: Tx, pools: ReadonlyMap<string, PoolState>): Promise<void> {
  await rows(
    tx,
    sql`
      update holdings h
      set
        quantity = v.quantity, value = v.value, unit_numerator = v.n, unit_denominator = v.d,
        layers = coalesce(v.layers, '[]')
      from jsonb_to_recordset(${JSON.stringify(heldRows(pools, null))}::jsonb) as v(
        item int, site int, line int, quantity numeric, value bigint, n numeric, d numeric, layers jsonb
      )
      where h.item_id = v.item and h.site_id = v.site and h.line_id = v.line`,
  )
}
