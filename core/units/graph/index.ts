export { describeUnitError } from './describe'
export { standardUnits, type Unit, type Dimension } from './standard-units'
export {
  convert,
  buildUnitGraph,
  reachableUnits,
  type UnitGraph,
  type UnitError,
  type UnitRelation,
} from './unit-graph'
