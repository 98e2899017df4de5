import { plural } from '~~/core/plural'
import type { LowStockSettings } from './low-stock-requests'

/** One item at one site that runs low: quantities in the stock unit, as text. */
export interface LowStockLine {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly siteId: number | null
  readonly site: string | null
  /** How more of it comes; null where nothing says how. `from`: the supplier, or the site it is moved from. */
  readonly kind: 'buy' | 'make' | 'break down' | 'move' | null
  readonly from: string | null
  readonly onHand: string
  readonly lowOn: string
  readonly left: string
  readonly keep: string
  readonly quantity: string
  /** The same in the unit that people order in, where that is another; told when it is read. */
  readonly inUnit?: { readonly quantity: string; readonly symbol: string }
  readonly orderBy: string
  readonly lateBy: number
  readonly leadDays: number
  /**
   * When it can be there; whom it is bought from, where it is moved from, and what is broken down for it how many
   * times; what was found before these were told has none.
   */
  readonly promisedOn?: string
  readonly supplierId?: number
  readonly fromSiteId?: number
  readonly breaking?: {
    readonly itemId: number
    readonly code: string
    readonly name: string
    readonly recipeId: number
    readonly times: string
  }
}

export interface LowStockAnswer extends LowStockSettings {
  readonly day: string | null
  readonly lookedAt: string | null
  readonly lines: readonly LowStockLine[]
}

const DOES = { buy: 'Buy', make: 'Build', 'break down': 'Break down for', move: 'Move' } as const
const lateSays = (line: LowStockLine): string => `${line.lateBy} working ${plural(line.lateBy, 'day', 'days')} late`
/** How days and numbers are written. */
export interface Writing {
  readonly day: (iso: string) => string
  readonly digits: (decimal: string) => string
}

const stateOf = (line: LowStockLine, { day, digits }: Writing): string =>
  line.left.startsWith('-')
    ? `${digits(line.left.slice(1))} ${line.symbol} missing on ${day(line.lowOn)}`
    : `${digits(line.left)} ${line.symbol} left on ${day(line.lowOn)}, ${digits(line.keep)} to keep`

/** What to do about it, in a few words: the state first, then the act. */
export function tellLowStock(line: LowStockLine, writing: Writing): string {
  const { day, digits } = writing
  if (line.kind === null) {
    return `${stateOf(line, writing)}; nothing says where it comes from`
  }
  return `${stateOf(line, writing)}; ${DOES[line.kind].toLowerCase()} ${digits(line.quantity)} ${line.symbol}${line.from ? ` from ${line.from}` : ''} ${line.lateBy > 0 ? `at once: ${lateSays(line)}` : `by ${day(line.orderBy)}`}`
}

/** The same for a line beside the last day to order: the act first. */
export function tellLowStockShort(line: LowStockLine, writing: Writing): string {
  const { digits } = writing
  return `${line.kind === null ? 'Nothing says where it comes from' : `${DOES[line.kind]} ${digits(line.quantity)} ${line.symbol}${line.lateBy > 0 ? `, ${lateSays(line)}` : ''}`}; ${stateOf(line, writing)}`
}
