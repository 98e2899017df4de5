export { BeyondLimit, exactly, type Limit } from './beyond-limit'
export {
  ONE_STEP,
  compileInput,
  shaped,
  toDated,
  toFixed,
  type Compiled,
  type Dated,
  type FixedAt,
  type PlanError,
} from './compile-input'
export { amountAt, givenAt } from './link-table'
export { needsOf } from './needs-of'
export type { WorkDays } from './work-days'
