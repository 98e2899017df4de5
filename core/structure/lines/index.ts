export { bindLine } from './bind-line'
export { useForPart, buildNeeds, type Handing } from './build-needs'
export { needOf } from './need-of'
