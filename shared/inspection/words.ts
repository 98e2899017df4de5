import type { Characteristic, SampleRule } from '~~/core/inspection'

/** What is decided of goods that were inspected. */
export const INSPECTION_DECISIONS = ['accepted', 'accepted with a reason', 'sorted', 'rejected'] as const
export type InspectionDecision = (typeof INSPECTION_DECISIONS)[number]

/** A plan as an inspection keeps it, whatever becomes of the plan. */
export interface InspectionPlanSeen {
  readonly code: string
  readonly name: string
  readonly rule: SampleRule
  readonly characteristics: readonly Characteristic[]
}

/** How much is looked at, in words: “all”, “5 of each lot”, “10 %”, “ISO 2859-1, level II, 1.0, normal”. */
export function describeRule(rule: SampleRule): string {
  switch (rule.kind) {
    case 'all':
      return 'all'
    case 'number':
      return `${rule.number} of each lot`
    case 'share':
      return `${rule.percent} % of each lot`
    case 'iso 2859-1':
      return `ISO 2859-1, level ${rule.level}, limit ${rule.limit}, ${rule.severity}`
  }
}

/** Limits in words: “1.9 to 2.1 mm”, “at least 5 N”, “at most 3 %”; nothing where there are none. */
export function describeLimits({ low, high, unit }: Characteristic): string {
  const measure = unit === '' ? '' : ` ${unit}`
  if (low !== '' && high !== '') {
    return `${low} to ${high}${measure}`
  }
  if (low !== '') {
    return `at least ${low}${measure}`
  }
  return high === '' ? '' : `at most ${high}${measure}`
}
