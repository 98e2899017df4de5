import { sql, type SQL } from 'drizzle-orm'
import { grouped, type NumberFormat } from '~~/core/units/quantity'

export type Area = 'demand' | 'planning' | 'purchasing' | 'workshop' | 'stock' | 'dispatch'
export interface TodayLine {
  area: Area
  id: string
  day: string | null
  title: string
  detail: string
  act: string
  link: string
  urgent: boolean
}

/** More lines than these of one kind are no list for a morning. */
export const MANY = 40

/**
 * A quantity within a text that the database puts together: between marks, so that it can be written as the company
 * writes numbers.
 */
export const quantity = (of: SQL): SQL => sql`chr(1) || trim_scale(${of})::text || chr(2)`
export const writeQuantities = (text: string, format: NumberFormat): string =>
  // eslint-disable-next-line no-control-regex -- the marks are control characters since no name can contain them
  text.replace(/\u0001([^\u0002]*)\u0002/g, (_, digits: string) => grouped(digits, format))
