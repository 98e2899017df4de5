import { toDay, toIso, weekday } from '~~/core/calendar/days'
import type { NodePlan, PlanDay } from '~~/core/planning/explain'

export type Grain = 'days' | 'weeks' | 'months'
export interface Bucket {
  readonly key: string
  readonly first: string
  readonly last: string
  readonly label: string
}
export interface BoardCell extends Omit<PlanDay, 'day'> {
  /** The least balance on any of its days without planned orders, and with them. */
  readonly lowest: number
  readonly lowestProjected: number
}

/** The spans of days that the board's columns stand for; the first begins with the plan. */
export function bucketsOf(
  startsOn: string,
  endsOn: string,
  grain: Grain,
  print: (iso: string) => string,
): readonly Bucket[] {
  const buckets: Bucket[] = []
  for (let first = startsOn; first <= endsOn;) {
    let next
    if (grain === 'days') {
      next = toIso(toDay(first) + 1)
    } else if (grain === 'weeks') {
      next = toIso(toDay(first) + 7 - weekday(toDay(first)))
    } else {
      next = nextMonth(first)
    }
    const last = toIso(toDay(next) - 1)
    buckets.push({ key: first, first, last: last > endsOn ? endsOn : last, label: print(first) })
    first = next
  }
  return buckets
}

const nextMonth = (iso: string): string => {
  const [year, month] = iso.split('-').map(Number) as [number, number]
  return month === 12 ? `${year + 1}-01-01` : `${year}-${String(month + 1).padStart(2, '0')}-01`
}

/** One node's days gathered into buckets: flows are summed, balances taken at the end of each. Finest steps. */
export function cellsOf(node: NodePlan, buckets: readonly Bucket[]): readonly BoardCell[] {
  let balance = node.onHand
  let balanceWithoutOrders = node.onHand
  let index = 0
  return buckets.map((bucket) => {
    const cell = {
      grossRequirements: 0,
      scheduledReceipts: 0,
      netRequirements: 0,
      plannedReceipts: 0,
      plannedReleases: 0,
      projectedAvailable: 0,
      withoutOrders: 0,
      lowest: Infinity,
      lowestProjected: Infinity,
    }
    for (; node.days[index] && node.days[index]!.day <= bucket.last; index++) {
      const day = node.days[index]!
      cell.grossRequirements += day.grossRequirements
      cell.scheduledReceipts += day.scheduledReceipts
      cell.netRequirements += day.netRequirements
      cell.plannedReceipts += day.plannedReceipts
      cell.plannedReleases += day.plannedReleases
      balance = day.projectedAvailable
      balanceWithoutOrders = day.withoutOrders
      cell.lowest = Math.min(cell.lowest, balanceWithoutOrders)
      cell.lowestProjected = Math.min(cell.lowestProjected, balance)
    }
    return {
      ...cell,
      projectedAvailable: balance,
      withoutOrders: balanceWithoutOrders,
      lowest: Math.min(cell.lowest, balanceWithoutOrders),
      lowestProjected: Math.min(cell.lowestProjected, balance),
    }
  })
}

/** What is missing within a cell: what has to be ordered, or what comes too late to be ordered anew. Finest steps. */
export const shortageOf = (cell: Pick<BoardCell, 'netRequirements' | 'lowestProjected'>): number =>
  Math.max(cell.netRequirements, -cell.lowestProjected, 0)

const HEIGHT = 46

/**
 * A cell of the board as the inside of a drawing of 64 × 46: the balance on its line, what rests on planned orders as
 * an outline, the hole below, what comes beside. Thousands are drawn while somebody scrolls, so it is text, made once a
 * cell.
 */
export function drawCell(
  cell: BoardCell,
  {
    top,
    bottom,
    safety,
    source,
  }: { readonly top: number; readonly bottom: number; readonly safety: number; readonly source: string },
): string {
  const y = (value: number): number => Math.round((2 + ((top - value) / (top - bottom)) * (HEIGHT - 4)) * 100) / 100
  const bar = (
    place: { x: number; width: number; least: number },
    from: number,
    to: number,
    attributes: string,
  ): string => {
    const height = Math.max(place.least, y(from) - y(to))
    return `<rect x="${place.x}" y="${y(from) - height}" width="${place.width}" height="${height}" rx="2" ${attributes}/>`
  }
  const outline = (colour: string): string =>
    `fill="none" stroke="var(--${colour})" stroke-width="1.5" vector-effect="non-scaling-stroke"`
  const supply = source === 'buy' || source === 'move' ? 'willow' : 'slate'
  const zero = y(0)
  // The part of the balance that is real, and the part that rests on planned orders.
  const real = Math.max(0, Math.min(cell.withoutOrders, cell.projectedAvailable))
  const planned = Math.max(0, cell.projectedAvailable) - real
  const shortage = shortageOf(cell)
  return [
    `<path d="M0 ${zero}H64" stroke="var(--line)"/>`,
    safety > 0 ? `<path d="M0 ${y(safety)}H64" stroke="var(--ink)" stroke-dasharray="1 3"/>` : '',
    real > 0 ? bar({ x: 8, width: 24, least: 1.5 }, 0, real, 'fill="var(--maple)"') : '',
    planned > 0 ? bar({ x: 8, width: 24, least: 2 }, real, real + planned, outline('maple')) : '',
    shortage > 0
      ? `<rect x="8" y="${zero}" width="48" height="${Math.max(4, y(-shortage) - zero)}" rx="2" stroke-dasharray="4 2" ${outline('brick')}/>`
      : '',
    cell.scheduledReceipts > 0
      ? bar({ x: 35, width: 9, least: 3 }, 0, cell.scheduledReceipts, `fill="var(--${supply})"`)
      : '',
    cell.plannedReceipts > 0 ? bar({ x: 46, width: 10, least: 4 }, 0, cell.plannedReceipts, outline(supply)) : '',
  ].join('')
}
