import { toMinor } from '~~/core/money'
import { ratio, type Ratio } from '~~/core/units/exact'

/** A standard cost in the company's currency as minor units for one stock unit. */
export const standardUnit = (cost: string | null): Ratio | null => (cost === null ? null : toMinor(ratio(cost)))
