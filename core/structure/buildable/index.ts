export { buildable, type BreakDown } from './buildable'
