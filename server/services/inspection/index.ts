export { openInspections } from './open-inspections'
export { plansFor, type PlanInUse } from './plans-for'
export { requireNotInspected } from './held-goods'
export { endInspections, inspectionReversals, requireUndecided } from './reversal'
