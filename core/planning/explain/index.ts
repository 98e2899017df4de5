export { describeMessage } from './describe'
export { explainNode, type ExplainedNode } from './explain-node'
export type { NodePlan, PlanDay, PlannedOrder, PlanOutput, PlanMessage } from './output'
export { reasonsOf, type Reason } from './reasons'
