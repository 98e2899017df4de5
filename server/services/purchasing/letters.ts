import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { majorText } from '~~/core/money'
import { grouped } from '~~/core/units/quantity'
import { db, rows, type Reader } from '~~/server/database/client'
import { differences, type LineDifference, type OrderedAs, type SentLine } from '~~/shared/purchasing/sent'
import type { OrderLetter } from '~~/shared/purchasing/answers'
import { loadCompany, loadWriting, type Writing } from '../company/company'
import { loadUnits } from '../catalogue/measured-items'

/** What is written where the company has no text of its own; words in braces are filled in. */
export const USUAL_LETTER = `Good day,

please find attached our {what} {number} of {ordered}, {lines}, {total} in all.
{changes}
Please confirm quantities, prices and dates.

With kind regards
{company}`

interface ToWrite {
  readonly number: string
  readonly orderedOn: string
  readonly currency: string | null
  readonly total: string
  readonly lines: readonly (OrderedAs & {
    readonly id: number
    readonly code: string
    readonly closedShort: boolean
    /** What it came instead of: the supplier was never told of such a line. */
    readonly replacesLineId: number | null
  })[]
}

/** The lines of an order as its supplier is told of them: what was given up is not wanted any more. */
export const asSent = (lines: ToWrite['lines']): SentLine[] =>
  lines
    .filter((line) => !line.closedShort && line.replacesLineId === null)
    .map(({ id, code, entered, unit, price, dueOn }) => ({ lineId: id, code, entered, unit, price, dueOn }))

/** The letter that goes with an order: its subject and text, which tell what has changed since it was sent before. */
export async function letterFor(
  order: ToWrite & { readonly sent: readonly SentLine[] | null },
): Promise<{ subject: string; text: string }> {
  const [company, writing, units] = await Promise.all([loadCompany(), loadWriting(), loadUnits(db)])
  const symbols = new Map(units.map((unit) => [unit.code, unit.symbol]))
  const changed = order.sent === null ? [] : differences(order.sent, asSent(order.lines))
  // Who reads it elsewhere and later wants the year.
  const day = (iso: string): string => printDay(iso, '', writing.dateFormat)
  const what = changed.length > 0 ? 'change to purchase order' : 'purchase order'
  const count = asSent(order.lines).length
  const words: Readonly<Record<string, string>> = {
    what,
    number: order.number,
    ordered: day(order.orderedOn),
    lines: count === 1 ? '1 line' : `${count} lines`,
    total: `${order.currency ?? company?.currency ?? ''} ${grouped(majorText(order.total), writing)}`,
    company: company?.name ?? '',
    changes: changed.map((change) => `${sentenceOf(change, { writing, symbols, day })}\n`).join(''),
  }
  const template = company?.orderLetter || USUAL_LETTER
  return {
    subject: `${what.charAt(0).toUpperCase()}${what.slice(1)} ${order.number}`,
    text: template.replaceAll(/\{(\w+)\}/g, (all, name: string) => words[name] ?? all),
  }
}

interface Written {
  readonly writing: Writing
  readonly symbols: ReadonlyMap<string, string>
  readonly day: (iso: string) => string
}

/** “BONE: 10 pc → 12 pc, due 9 Oct → 16 Oct.” */
function sentenceOf({ code, before, after }: LineDifference, { writing, symbols, day }: Written): string {
  const quantity = ({ entered, unit }: OrderedAs): string => `${grouped(entered, writing)} ${symbols.get(unit) ?? unit}`
  if (!before) {
    return `${code}: ${quantity(after!)} more, due ${day(after!.dueOn)}.`
  }
  if (!after) {
    return `${code}: ${quantity(before)} not wanted any more.`
  }
  const parts: readonly (readonly [string, string, string])[] = [
    ['', quantity(before), quantity(after)],
    ['price ', grouped(before.price, writing), grouped(after.price, writing)],
    ['due ', day(before.dueOn), day(after.dueOn)],
  ]
  const changed = parts.filter(([, was, is]) => was !== is).map(([name, was, is]) => `${name}${was} → ${is}`)
  return `${code}: ${changed.join(', ')}.`
}

/** The letters that went out with an order, the newest first, with how far each came. */
export const lettersOf = (orderId: number, reader: Reader = db): Promise<OrderLetter[]> =>
  rows<OrderLetter>(
    reader,
    sql`
      select id, sent_on as "sentOn", to_address as "to", subject, state, problem
      from mails
      where entity = 'purchase order' and entity_id = ${orderId}
      order by id desc`,
  )
