import { upwards, type Ratio } from '~~/core/units/exact'
import type { PlanScope } from '~~/shared/planning/requests'
import type { MeasuredItem } from '../catalogue/measured-items'
import type { PlannedSites } from './planned-sites'

export interface Around {
  readonly start: string
  readonly end: string
  readonly scope: PlanScope
  readonly places: PlannedSites
}

/** Whole finest steps of an amount in the stock unit; what is stored lies on a step already. */
export const stepsOf = ({ measure: { finestStep } }: MeasuredItem, amount: Ratio): number =>
  Number(upwards(finestStep.n === finestStep.d ? amount : amount.div(finestStep)))
