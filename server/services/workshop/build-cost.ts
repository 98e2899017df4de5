import { sql } from 'drizzle-orm'
import { buildDifferences, type BuildDifferences } from '~~/core/costing'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { MEASURED_ITEM, notReversed } from '~~/server/database/sql'
import type { BuildCost, CostLine, Differences } from '~~/shared/workshop/answers'
import type { BomHead } from '../structure/bind-structure'
import { minutesOf, workOf } from './bill-needs'
import { inWorkOf } from './close-build'

const NONE: BuildDifferences = { bill: 0n, usage: 0n, price: 0n, yield: 0n, actual: 0n }

/** What a build cost until now against its bill, component by component and for the work. */
export async function costOfBuild(
  reader: Reader,
  build: { readonly id: number; readonly quantity: string; readonly made: string; readonly status: string },
  head: BomHead,
): Promise<BuildCost> {
  const output = { quantity: ratio(build.quantity), made: ratio(build.made), done: build.status === 'done' }
  const own = await rows<{
    lineId: number
    code: string
    name: string
    symbol: string
    need: string
    used: string
    planned: string
    cost: string
  }>(
    reader,
    sql`
      select
        l.id as "lineId", i.code, i.name, i.symbol, l.need, l.used, l.planned,
        coalesce(
          (
            select sum((a.value + a.variance) * case when t.kind = 'workshop' then 1 else -1 end)
            from postings o
            join moves m on m.posting_id = o.id
            join amounts a on a.move_id = m.id
            join places f on f.id = m.from_place_id
            join places t on t.id = m.to_place_id
            where o.document_kind = 'build'
              and o.document_id = ${build.id}
              and (m.document_line_id = l.id or (m.document_line_id is null and m.item_id = l.item_id))
              and ((t.kind = 'workshop' and m.basis <> 'back') or (f.kind = 'workshop' and m.basis = 'back'))
          ),
          0
        )::text as cost
      from build_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where l.build_id = ${build.id}
      order by l.position`,
  )
  const lines = own.map((row) => {
    const component = {
      need: ratio(row.need),
      used: ratio(row.used),
      planned: ratio(row.planned),
      cost: BigInt(row.cost),
    }
    return {
      row,
      found: buildDifferences(component, output),
      standard: component.need.mul(output.made).div(output.quantity),
    }
  })
  const [recorded] = await rows<{ work: string; minutes: string }>(
    reader,
    sql`
      select coalesce(sum(o.work_value), 0)::text as work, coalesce(sum(n.minutes), 0)::text as minutes
      from postings o
      left join build_minutes n on n.posting_id = o.id
        and ${notReversed('o.id')}
      where o.document_kind = 'build' and o.document_id = ${build.id}`,
  )
  const work = workDifference(head, output.made, BigInt(recorded!.work))
  const all = [...lines.map((line) => line.found), work]
  const total = all.reduce(
    (sum, entry) => ({
      bill: sum.bill + entry.bill,
      usage: sum.usage + entry.usage,
      price: sum.price + entry.price,
      yield: sum.yield + entry.yield,
      actual: sum.actual + entry.actual,
    }),
    NONE,
  )
  const rest: CostLine[] =
    work.bill === 0n && work.actual === 0n
      ? []
      : [{ lineId: null, code: '', name: 'Work', symbol: '', standard: '', used: '', ...figuresOf(work) }]
  return {
    lines: [
      ...lines.map(({ row, found, standard }): CostLine => ({
        lineId: row.lineId,
        code: row.code,
        name: row.name,
        symbol: row.symbol,
        standard: toText(roundTo(standard)),
        used: row.used,
        ...figuresOf(found),
      })),
      ...rest,
    ],
    total: figuresOf(total),
    inWork: (await inWorkOf(reader, build.id)).toString(),
    minutes: recorded!.minutes,
    billMinutes: toText(roundTo(minutesOf(head, output.made))),
  }
}

/** Work that took longer, or less long, than the bill says. */
function workDifference(head: BomHead, made: Ratio, actual: bigint): BuildDifferences {
  const bill = workOf(head, made)
  return { bill, usage: actual - bill, price: 0n, yield: 0n, actual }
}

const figuresOf = (found: BuildDifferences): Differences => ({
  bill: found.bill.toString(),
  usage: found.usage.toString(),
  price: found.price.toString(),
  yield: found.yield.toString(),
  actual: found.actual.toString(),
})
const MILLION = 1_000_000n
const roundTo = (amount: Ratio): Ratio =>
  amount.compare(ZERO) === 0 ? ZERO : ratio((amount.n * MILLION + amount.d / 2n) / amount.d, MILLION)
