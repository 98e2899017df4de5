import type { PlanScope } from './requests'

export const DEMAND_RULES = ['larger', 'both', 'orders only', 'forecast only'] as const

/** A plan that leaves nothing out. */
export const ALL_OF_IT: PlanScope = {
  sites: [],
  sitesAsOne: false,
  purchases: true,
  builds: true,
  transfers: true,
  items: 'all',
  of: [],
  makingHeedsCalendar: true,
  buyingHeedsCalendar: true,
  keepSafety: true,
  pullIn: true,
  backDays: 0,
  aheadDays: 0,
  longestLeadDays: null,
}
