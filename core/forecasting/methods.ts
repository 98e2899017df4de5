import { AVERAGE, LAST_YEAR, MOVING_AVERAGE, NAIVE } from './averages'
import { CROSTON } from './croston'
import { METHODS, type Method, type MethodName } from './series'
import { SMOOTHING } from './smoothing'

const ALL = new Map(
  [NAIVE, AVERAGE, MOVING_AVERAGE, LAST_YEAR, ...SMOOTHING, CROSTON].map((method) => [method.name, method]),
)

/** The method of a name. */
export const methodOf = (name: MethodName): Method => ALL.get(name)!
/** From the simplest to the most involved. */
export const allMethods: readonly Method[] = METHODS.map(methodOf)
