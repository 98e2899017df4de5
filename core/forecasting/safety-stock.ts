import { normalQuantile } from './normal'

/**
 * Stock that meets what comes over a lead time with the wanted probability, beyond what is forecast: z × deviation ×
 * √(lead ÷ period).
 *
 * Units:  `deviation` of the forecast error over one period of `periodDays` calendar days; `leadDays` calendar days;
 *         `service` in (0.5, 1).
 * Source: Silver, Pyke & Peterson, Inventory Management and Production Planning and Scheduling, 3rd ed., ch. 7 (from
 *         memory).
 *
 * @example 95 %, deviation 12 a month of 30 days, 15 days → 1.645 × 12 × √0.5 = 13.96
 */
export function safetyStock({
  deviation,
  periodDays,
  leadDays,
  service,
}: {
  readonly deviation: number
  readonly periodDays: number
  readonly leadDays: number
  readonly service: number
}): number {
  return Math.max(0, normalQuantile(service)) * deviation * Math.sqrt(Math.max(0, leadDays) / periodDays)
}
