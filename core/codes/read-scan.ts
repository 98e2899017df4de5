import { isIsoDate, toDay, toIso } from '../calendar/days'
import { readGtin } from './gtin'

/** What a scanned code says: its text, and what a GS1 element string carries beside the item. */
export interface Scan {
  readonly code: string
  readonly gtin14: string | null
  readonly lot: string | null
  readonly expiresOn: string | null
}

const SEPARATOR = '\u001d'
/** Application identifiers whose length is fixed; others run to the separator. */
const FIXED: Readonly<Record<string, number>> = { '01': 14, '02': 14, '11': 6, '13': 6, '15': 6, '17': 6, '20': 2 }

/**
 * Reads what a scanner typed: a plain code, a GTIN, or a GS1 element string (01 item, 10 lot, 15 and 17 dates), with or
 * without brackets and symbology identifier.
 *
 * Source: GS1 General Specifications, sections 3.2 (application identifiers) and 7.8 (element strings); two-digit years
 *         by section 7.12, here the century 2000.
 *
 * @example "]d20109520000000014" + "10L7" → item 09520000000014, lot L7
 */
export function readScan(text: string): Scan {
  // A separator in front is the function character by which GS1 symbols begin; some readers pass it on.
  const content = text
    .trim()
    .replace(/^\](C1|d2|Q3|e0)/, '')
    .replace(new RegExp(`^${SEPARATOR}`), '')
  const elements = readElements(content)
  const code = elements?.get('01') ?? content
  const gtin = readGtin(code)
  return {
    code,
    gtin14: gtin.ok ? gtin.value.gtin14 : null,
    lot: elements?.get('10') ?? null,
    expiresOn: readDate(elements?.get('17') ?? elements?.get('15')),
  }
}

function readElements(text: string): Map<string, string> | null {
  const bracketed = [...text.matchAll(/\((\d{2})\)([^(]*)/g)]
  if (bracketed.length > 0 && text.startsWith('(')) {
    return new Map(bracketed.map(([, ai, value]) => [ai!, value!]))
  }
  if (!/^01\d{14}/.test(text) || !readGtin(text.slice(2, 16)).ok) {
    return null
  }
  const found = new Map<string, string>()
  for (let rest = text; rest.length > 2;) {
    const ai = rest.slice(0, 2)
    rest = rest.slice(2)
    const end = FIXED[ai] ?? (rest.includes(SEPARATOR) ? rest.indexOf(SEPARATOR) : rest.length)
    found.set(ai, rest.slice(0, end))
    rest = rest.slice(end).replace(new RegExp(`^${SEPARATOR}`), '')
  }
  return found
}

/** YYMMDD; a day of 00 means the last of the month. */
function readDate(text: string | undefined): string | null {
  if (!text || !/^\d{6}$/.test(text)) {
    return null
  }
  const [year, month, day] = [`20${text.slice(0, 2)}`, text.slice(2, 4), text.slice(4)]
  if (day !== '00') {
    return isIsoDate(`${year}-${month}-${day}`) ? `${year}-${month}-${day}` : null
  }
  const next = month === '12' ? `${Number(year) + 1}-01-01` : `${year}-${String(Number(month) + 1).padStart(2, '0')}-01`
  return isIsoDate(next) ? toIso(toDay(next) - 1) : null
}
