export { compareIds } from './compare-ids'
export {
  wayFrom,
  type FixedOrder,
  type PlanInput,
  type LotRule,
  type PlanNode,
  type Demand,
  type Multiple,
  type Source,
  type Supply,
  type NoSource,
  type PriceStep,
  type Component,
} from './input'
export { SiteAreas, type SiteRoute } from './site-areas'
