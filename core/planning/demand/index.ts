export { consumeForecast, type DemandRule } from './consume-forecast'
export { spreadForecast, shareSteps } from './spread-forecast'
