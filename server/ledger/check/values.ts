import { sql } from 'drizzle-orm'
import type { PoolState, Revaluation } from '~~/core/costing'
import { groupBy } from '~~/core/group-by'
import { parts, toText } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { loadPools, poolKey } from '../lock-stock'
import { replay } from '../work-out'
import { MINOR, type LedgerDifference } from './difference'

/** A pool of cost: what is kept of it, and how a sentence names it. */
interface Pool {
  readonly key: string
  readonly item: number
  readonly what: string
}

/** Every pool that moves went through, or that is kept. */
export async function poolsOf(reader: Reader): Promise<readonly Pool[]> {
  const found = await rows<{ item: number; site: number; line: number; what: string }>(
    reader,
    sql`
      select p.item, p.site, p.line, i.code || ' · ' || coalesce(s.name, 'on the way, line ' || p.line) as what
      from (
        select item_id as item, site_id as site, line_id as line
        from holdings
        union
        select m.item_id, coalesce(p.site_id, 0), case when p.kind = 'transit' then m.document_line_id else 0 end
        from moves m
        join places p on p.id in (m.from_place_id, m.to_place_id)
        where p.kind in ('bin', 'transit')
      ) p
      join items i on i.id = p.item
      left join sites s on s.id = p.site
      order by 1, 2, 3`,
  )
  return found.map(({ item, site, line, what }) => ({ key: poolKey(item, site, line), item, what }))
}

/**
 * What moves, pools, new standards and jobs that were closed are worth, worked out again item by item from what was
 * recorded of them: what every other item gave stands as it is kept, so that a difference is named where it is.
 */
export async function checkValues(reader: Reader): Promise<LedgerDifference[]> {
  const differences = new Map<string, LedgerDifference>()
  for (const pools of groupBy(await poolsOf(reader), (pool) => pool.item).values()) {
    for (const difference of await checkItem(reader, pools)) {
      differences.set(JSON.stringify(difference), difference)
    }
  }
  return [...differences.values()]
}

async function checkItem(reader: Reader, pools: readonly Pool[]): Promise<LedgerDifference[]> {
  let worked: Revaluation
  try {
    worked = await replay(
      reader,
      pools.map((pool) => pool.key),
    )
  } catch (error) {
    if (!(error instanceof Refusal)) {
      throw error
    }
    const what = pools[0]!.what
    return [{ kind: 'stock value', what, kept: '', worked: error.detail, unit: null }]
  }
  return [...(await movesOf(reader, worked)), ...actsOf(worked, pools), ...(await statesOf(reader, worked, pools))]
}

async function movesOf(reader: Reader, worked: Revaluation): Promise<LedgerDifference[]> {
  if (worked.moves.size === 0) {
    return []
  }
  const named = await rows<{ id: string; what: string }>(
    reader,
    sql`
      select m.id::text, i.code || ' · ' || o.label as what
      from moves m
      join postings o on o.id = m.posting_id
      join items i on i.id = m.item_id
      where ${anyOf(sql`m.id`, [...worked.moves.keys()].map(Number))}
      order by m.id`,
  )
  const amounts = { value: '', variance: ' · variance', restated: ' · rest of the stock' } as const
  return named.flatMap(({ id, what }) => {
    const { before, now } = worked.moves.get(id)!
    return (Object.keys(amounts) as (keyof typeof amounts)[])
      .filter((part) => before![part] !== now[part])
      .map((part) => inMoney('value of a move', what + amounts[part], before![part], now[part]))
  })
}

function actsOf(worked: Revaluation, pools: readonly Pool[]): LedgerDifference[] {
  const names = new Map(pools.map((pool) => [pool.key, pool.what]))
  return [
    ...worked.standards.map(({ pool, day, before, now }) =>
      inMoney('standard cost', `${names.get(pool) ?? pool} · ${day}`, before, now),
    ),
    ...worked.closings.map(({ posting, day, before, now }) =>
      inMoney('work written off', `${day} · posting ${posting}`, before, now),
    ),
  ]
}

async function statesOf(reader: Reader, worked: Revaluation, pools: readonly Pool[]): Promise<LedgerDifference[]> {
  const kept = await loadPools(reader, pools[0]!.item)
  return pools.flatMap(({ key, what }): LedgerDifference[] => {
    const [then, now] = [kept.get(key), worked.pools.get(key)!]
    if (then === undefined) {
      return [{ kind: 'stock value', what, kept: 'nothing', worked: describe(now), unit: null }]
    }
    const money = then.value === now.value ? [] : [inMoney('stock value', what, then.value, now.value)]
    return describe({ ...then, value: 0n }) === describe({ ...now, value: 0n })
      ? money
      : [...money, { kind: 'stock value', what, kept: describe(then), worked: describe(now), unit: null }]
  })
}

/** A pool in words: its quantity, what one of it is worth, and its layers. */
function describe({ quantity, unit, layers }: PoolState): string {
  const each = unit === null ? '' : ` at ${parts(unit).n}/${parts(unit).d}`
  return [
    toText(quantity) + each,
    ...layers.map((layer) => `${layer.on}: ${toText(layer.quantity)} for ${layer.value}`),
  ].join(', ')
}

const inMoney = (kind: LedgerDifference['kind'], what: string, kept: bigint, worked: bigint): LedgerDifference => ({
  kind,
  what,
  kept: kept.toString(),
  worked: worked.toString(),
  unit: MINOR,
})
