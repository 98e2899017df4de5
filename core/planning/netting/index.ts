export { EXACT, sizeOfRule, sizingOf, netNode } from './net-node'
export type { DayBalance, Flow, NetListener, OrderFacts } from './net-node'
export { NetPlan, type NodeChange } from './net-plan'
