import { sql } from 'drizzle-orm'
import { judgeValue } from '~~/core/inspection'
import { db, rows } from '~~/server/database/client'
import type { RunChart } from '~~/shared/inspection/answers'
import type { InspectionPlanSeen } from '~~/shared/inspection/words'

/** So many values of a characteristic are drawn, the latest. */
const MOST_VALUES = 200

/**
 * The measured values of an item by a plan, characteristic by characteristic, oldest first. Each is judged by the limits
 * of its own inspection; the limits that are drawn are those of the latest.
 */
export async function runCharts(planId: number, itemId: number): Promise<RunChart[]> {
  const found = await rows<{
    id: number
    number: string
    on: string
    plan: InspectionPlanSeen
    samples: string[][]
  }>(
    db,
    sql`
      select id, number, opened_on as "on", plan, samples
      from inspections
      where plan_id = ${planId} and item_id = ${itemId} and status <> 'taken back' and samples <> '[]'
      order by id desc
      limit ${MOST_VALUES}`,
  )
  const [latest] = found
  const measured = latest?.plan.characteristics.filter(({ kind }) => kind === 'measured') ?? []
  return measured.map(({ name, unit, low, high }) => {
    const values = found.flatMap(({ id, number, on, plan, samples }) => {
      const index = plan.characteristics.findIndex((own) => own.name === name && own.kind === 'measured')
      const own = plan.characteristics[index]
      return own
        ? samples
            .flatMap((sample) => sample[index] || [])
            .map((value) => ({ inspectionId: id, number, on, value, verdict: judgeValue(own, value) }))
            .reverse()
        : []
    })
    return { name, unit, low, high, values: values.slice(0, MOST_VALUES).reverse() }
  })
}
