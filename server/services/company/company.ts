import { db, type Reader } from '~~/server/database/client'
import type { DateFormat } from '~~/core/calendar/days'
import type { NumberFormat } from '~~/core/units/quantity'
import { company } from '~~/server/database/schema'
import type { Company } from '../../../shared/company/answers'

export async function loadCompany(): Promise<Company | null> {
  const [row] = await db.select().from(company)
  return row ?? null
}

/** How the company writes numbers and dates; as it begins, where there is none yet. */
export type Writing = NumberFormat & { readonly dateFormat: DateFormat }

export async function loadWriting(reader: Reader = db): Promise<Writing> {
  const [own] = await reader
    .select({ decimalSign: company.decimalSign, grouping: company.grouping, dateFormat: company.dateFormat })
    .from(company)
  return own ?? { decimalSign: '.', grouping: 'space', dateFormat: 'day month' }
}

/** The company's day: the demo's fixed one, else the real one. */
export async function today(): Promise<string> {
  const own = await loadCompany()
  return own?.fixedDay ?? dayIn(own?.timeZone ?? null, new Date())
}

/** The date in a time zone (an IANA name; null: that of the server) at a moment. */
export function dayIn(timeZone: string | null, moment: Date): string {
  const parts = new Intl.DateTimeFormat('en-CA', {
    timeZone: timeZone ?? undefined,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
  }).formatToParts(moment)
  const part = (type: 'year' | 'month' | 'day'): string => parts.find((entry) => entry.type === type)!.value
  return `${part('year')}-${part('month')}-${part('day')}`
}
