export { plan, writePlan } from './plan'
export { NetPlan, type NodeChange } from './net-plan'
export { explainNode, type ExplainedNode } from './explain-node'
export type { PlanError } from './compile-input'
export { wayFrom } from './input'
export type {
  PlanInput,
  PlanNode,
  Source,
  Component,
  Multiple,
  Demand,
  Supply,
  FixedOrder,
  LotRule,
  PriceStep,
} from './input'
export type { PlanOutput, NodePlan, PlanDay, PlannedOrder, Peg, PlanMessage, Why } from './output'
export { applyWhatIf, type WhatIf } from './what-if'
export { costAt, demandsAtRisk, figuresOf, nearTiers, weekOf, type PlanFigures } from './figures'
export { shareSteps, spreadForecast } from './spread-forecast'
export { consumeForecast, type DemandRule } from './consume-forecast'
export { reasonsOf, type Reason } from './reasons'
export { describeMessage } from './describe'
export { LivePlan } from './live-plan'
export { lowStock, type LowStock } from './low-stock'
export { SiteAreas, type SiteRoute } from './site-areas'
export { checkInput, type InputError } from './check-input'
export { promise, type PromiseRequest, type Promised, type SupplyOption } from './promise'
export { describeSupplyOption, type SupplyOptionWords } from './describe-supply-option'
