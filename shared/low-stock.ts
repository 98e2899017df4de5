import { z } from 'zod'
import { grouped } from '~~/core/units'

/** One item at one site that runs low: quantities in the stock unit, as text. */
export interface LowStockLine {
  readonly itemId: number, readonly code: string, readonly name: string, readonly symbol: string
  readonly siteId: number | null, readonly site: string | null
  /** How more of it comes; null where nothing says how. `from`: the supplier, or the site it is moved from. */
  readonly kind: 'buy' | 'make' | 'break down' | 'move' | null, readonly from: string | null
  readonly onHand: string, readonly lowOn: string, readonly left: string, readonly keep: string, readonly quantity: string
  readonly orderBy: string, readonly lateBy: number, readonly leadDays: number
}

export const LowStockSettings = z.object({ aheadDays: z.coerce.number('Give working days.').int('Give whole working days.').min(0, 'Not below zero.').max(60, 'Sixty at most.'), mail: z.boolean() })
export type LowStockSettings = z.output<typeof LowStockSettings>

export interface LowStockAnswer extends LowStockSettings { readonly day: string | null, readonly lookedAt: string | null, readonly lines: readonly LowStockLine[] }

const ACT = { 'buy': 'order', 'make': 'build', 'break down': 'break down for', 'move': 'move' } as const

/** What to do about it, in a few words; `day` prints a day. */
export function tellLowStock(line: LowStockLine, day: (iso: string) => string): string {
  const state = line.left.startsWith('-') ? `${grouped(line.left.slice(1))} ${line.symbol} missing on ${day(line.lowOn)}` : `${grouped(line.left)} ${line.symbol} left on ${day(line.lowOn)}, ${grouped(line.keep)} to keep`
  if (line.kind === null) return `${state}; nothing says where it comes from`
  const act = `${ACT[line.kind]} ${grouped(line.quantity)} ${line.symbol}${line.from ? ` from ${line.from}` : ''}`
  return `${state}; ${act} ${line.lateBy > 0 ? `at once: ${line.lateBy} working ${line.lateBy === 1 ? 'day' : 'days'} late` : `by ${day(line.orderBy)}`}`
}
