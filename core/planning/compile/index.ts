export {
  ONE_STEP,
  byDay,
  compileInput,
  shaped,
  toFixed,
  type Compiled,
  type Dated,
  type FixedAt,
  type PlanError,
} from './compile-input'
export { amountAt } from './link-table'
export { needsOf } from './needs-of'
export type { WorkDays } from './work-days'
