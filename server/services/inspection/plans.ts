import { eq, sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { inspectionPlans } from '~~/server/database/schema'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { InspectionPlanRow } from '~~/shared/inspection/answers'
import type { InspectionPlanEdit } from '~~/shared/inspection/requests'
import { lockAsSeen, noteChange, saveDocument } from '../../documents'

/** All plans, those in use first, with how many inspections they had and how many of these rejected goods. */
export const loadPlans = (): Promise<InspectionPlanRow[]> =>
  rows<InspectionPlanRow>(
    db,
    sql`
      select
        p.id, p.code, p.name, p.item_id as "itemId",
        case
          when i.id is not null then json_build_object('id', i.id, 'code', i.code, 'name', i.name)
        end as item,
        p.group_id as "groupId", p.supplier_id as "supplierId",
        coalesce(i.code || ' ' || i.name, 'group ' || g.name, 'supplier ' || s.name) as "of",
        p.on_receipts as "onReceipts", p.on_builds as "onBuilds", p.rule, p.characteristics, p.note, p.retired,
        p.version, count(n.id)::int as inspected,
        (count(n.id) filter (where n.decision in ('sorted', 'rejected')))::int as rejected
      from inspection_plans p
      left join items i on i.id = p.item_id
      left join item_groups g on g.id = p.group_id
      left join suppliers s on s.id = p.supplier_id
      left join inspections n on n.plan_id = p.id and n.status = 'decided'
      group by p.id, i.id, g.id, s.id
      order by p.retired, p.code`,
  )

/** Errors: `invalid-input` beside a code that another plan has, or beside an item that is a service. */
export async function createPlan(tx: Tx, actor: Actor, edit: InspectionPlanEdit): Promise<{ id: number }> {
  await requireSound(tx, edit, null)
  const [made] = await tx.insert(inspectionPlans).values(edit).returning({ id: inspectionPlans.id })
  await noteChange(tx, actor, { kind: 'inspection plan', id: made!.id }, null, edit)
  return made!
}

/** What is open goes on by the plan as it was. Errors: as `createPlan`; `stale-version`. */
export async function changePlan(
  tx: Tx,
  actor: Actor,
  id: number,
  { version, ...edit }: InspectionPlanEdit & { readonly version: number },
): Promise<{ version: number }> {
  const plan = await lockAsSeen(tx, 'inspection plan', id, version)
  await requireSound(tx, edit, id)
  return saveDocument(tx, actor, 'inspection plan', plan, { set: edit })
}

/** Puts a plan out of use, or into use again. */
export async function retirePlan(
  tx: Tx,
  actor: Actor,
  id: number,
  { version, retired }: { readonly version: number; readonly retired: boolean },
): Promise<{ version: number }> {
  const plan = await lockAsSeen(tx, 'inspection plan', id, version)
  return saveDocument(tx, actor, 'inspection plan', plan, { set: { retired } })
}

async function requireSound(tx: Tx, { code, itemId }: InspectionPlanEdit, own: number | null): Promise<void> {
  const [same] = await tx
    .select({ id: inspectionPlans.id })
    .from(inspectionPlans)
    .where(eq(sql`lower(${inspectionPlans.code})`, code.toLowerCase()))
  if (same && same.id !== own) {
    refuseField('code', `There is a plan “${code}” already.`)
  }
  if (itemId !== null) {
    const [item] = await rows<{ kind: string; code: string }>(
      tx,
      sql`select kind, code from items where id = ${itemId}`,
    )
    if (!item || item.kind === 'service') {
      refuseField('itemId', item ? `${item.code} is a service; there is nothing to inspect.` : 'Choose an item.')
    }
  }
}
