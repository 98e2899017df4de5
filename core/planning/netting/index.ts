export { EXACT, sizeOfRule, sizingOf, netNode } from './net-node'
export { NetPlan, type NodeChange } from './net-plan'
