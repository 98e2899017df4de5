import { inArray } from 'drizzle-orm'
import { figuresOf, type PlanFigures } from '~~/core/planning/what-if'
import { db } from '~~/server/database/client'
import { suppliers } from '~~/server/database/schema'
import { isOpen, readRun } from './runs'
import { loadPlan, nodesInScope } from './stored-plan'

export interface ComparedPlan extends PlanFigures {
  readonly id: number
  readonly name: string
  readonly kind: string
  readonly startsOn: string
  readonly endsOn: string
  readonly changes: number
  /** It is being computed anew: its figures and settings are those of before. */
  readonly isOlder: boolean
}

/** What several plans come to, side by side; the suppliers that they buy from by name. */
export async function comparePlans(
  ids: readonly number[],
): Promise<{ plans: ComparedPlan[]; suppliers: Record<string, string> }> {
  const plans: ComparedPlan[] = []
  for (const id of ids) {
    const { row, input, output, ran, scope } = await loadPlan(db, id)
    plans.push({
      id,
      name: row.name,
      kind: row.kind,
      startsOn: row.startsOn,
      endsOn: ran.endsOn,
      changes: ran.changes.length,
      isOlder: isOpen(await readRun(id)),
      ...figuresOf(input, output, await nodesInScope(db, input, scope)),
    })
  }
  const named = [...new Set(plans.flatMap((plan) => plan.spend.map((expense) => Number(expense.supplier))))]
  const found =
    named.length === 0
      ? []
      : await db.select({ id: suppliers.id, name: suppliers.name }).from(suppliers).where(inArray(suppliers.id, named))
  return { plans, suppliers: Object.fromEntries(found.map((match) => [match.id, match.name])) }
}
