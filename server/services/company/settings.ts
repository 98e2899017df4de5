import { eq, sql } from 'drizzle-orm'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { calendars, company } from '~~/server/database/schema'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { CompanySettings, CompanySettingsAnswer } from '~~/shared/company/settings'
import { lockAsSeen, saveDocument } from '../../documents'
import { today } from './company'

const COMPANY = 1

export async function readSettings(reader: Reader): Promise<CompanySettingsAnswer> {
  const [own] = await reader
    .select({
      version: company.version,
      name: company.name,
      currency: company.currency,
      decimalSign: company.decimalSign,
      grouping: company.grouping,
      dateFormat: company.dateFormat,
      calendarId: company.calendarId,
      finishedBinId: company.finishedBinId,
      webCustomerId: company.webCustomerId,
      timeZone: company.timeZone,
      sessionMinutes: company.sessionMinutes,
      sessionDays: company.sessionDays,
      approveAbove: sql<string | null>`trim_scale(${company.approveAbove})::text`,
      orderLetter: company.orderLetter,
    })
    .from(company)
  return {
    ...own!,
    today: await today(),
    serverZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    hasValue: await hasValue(reader),
  }
}

/**
 * Errors: `stale-version`; `invalid-input` for a calendar that is gone, or another currency while value is on the
 *         books.
 */
export async function changeSettings(tx: Tx, actor: Actor, edit: CompanySettings): Promise<{ version: number }> {
  const { version, ...settings } = edit
  const own = await lockAsSeen(tx, 'company', COMPANY, version)
  if (settings.currency !== own.currency && (await hasValue(tx))) {
    refuseField(
      'currency',
      `Value is on the books in ${own.currency}; it would be read as ${settings.currency} without being converted.`,
    )
  }
  if (
    settings.calendarId !== null &&
    (await tx.select().from(calendars).where(eq(calendars.id, settings.calendarId))).length === 0
  ) {
    refuseField('calendarId', 'This calendar is gone. Choose another.')
  }
  await requireThere(tx, settings)
  return saveDocument(tx, actor, 'company', own, { set: settings })
}

/** Errors: `invalid-input` for a bin or a customer that is gone. */
async function requireThere(
  tx: Tx,
  { finishedBinId, webCustomerId }: Pick<CompanySettings, 'finishedBinId' | 'webCustomerId'>,
): Promise<void> {
  const [found] = await rows<{ bin: boolean; customer: boolean }>(
    tx,
    sql`
      select
        exists (select 1 from places where id = ${finishedBinId} and kind = 'bin' and not retired) as bin,
        exists (select 1 from customers where id = ${webCustomerId} and not retired) as customer`,
  )
  if (finishedBinId !== null && !found!.bin) {
    refuseField('finishedBinId', 'This bin is gone. Choose another.')
  }
  if (webCustomerId !== null && !found!.customer) {
    refuseField('webCustomerId', 'This customer is gone. Choose another.')
  }
}

async function hasValue(reader: Reader): Promise<boolean> {
  const [found] = await rows<{ has: boolean }>(reader, sql`select exists (select 1 from postings) as has`)
  return found!.has
}
