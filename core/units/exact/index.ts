export { ONE, ratio, toDecimal, toText, ZERO, nearestEven, parts, upwards, isRatio, type Ratio } from './ratio'
export { toSteps, type Stepped } from './steps'
