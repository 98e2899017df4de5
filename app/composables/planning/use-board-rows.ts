import { groupBy } from '~~/core/group-by'
import { ratio, toText } from '~~/core/units/exact'
import type { NodePlan } from '~~/core/planning/explain'
import type { PlannedItem } from '~~/shared/planning/answers'
import { bucketsOf, cellsOf, drawCell, shortageOf, type BoardCell, type Bucket, type Grain } from './use-board'
import type { PlannedOrder } from './planned-orders'

export interface BoardPlan {
  readonly id: number
  readonly startsOn: string
  readonly endsOn: string
  readonly nodes: readonly NodePlan[]
  readonly items: Record<string, PlannedItem>
  readonly orders: readonly PlannedOrder[]
}
export interface BoardRow {
  readonly node: NodePlan
  readonly item: PlannedItem
  readonly cells: readonly BoardCell[]
  /** Of each column: whether something wanted then cannot be there in time. */
  readonly late: readonly boolean[]
  /** The highest and the lowest balance that the row draws, in finest steps. */
  readonly top: number
  readonly bottom: number
  /** The first column that falls short, −1 where none does. */
  readonly firstShortage: number
}
/** A cell that somebody looks at, with what is told of it at once. Quantities with their unit, dates in ISO 8601. */
export interface LookedAt {
  readonly node: string
  readonly code: string
  readonly name: string
  readonly first: string
  readonly last: string
  /** What is short in it, empty where nothing is. */
  readonly shortage: string
  /** The planned orders that come in it. */
  readonly orders: readonly PlannedOrder[]
  readonly messages: readonly string[]
}
export const CELL_CONTENTS = ['blocks and figures', 'blocks', 'figures'] as const
export type CellContent = (typeof CELL_CONTENTS)[number]
/** Which rows are shown, in which order, over which spans of days. */
export interface BoardChoice {
  grain: Grain
  only: 'all' | 'holes' | 'orders'
  sort: 'hole' | 'level' | 'code' | 'name' | 'group' | 'supplier'
  search: string
  /** Each row drawn as high as it has room for, or all rows counted in one unit to one scale. */
  scale: 'row' | 'unit'
}

export const BOARD_LINES = [
  ['grossRequirements', 'Gross requirements'],
  ['scheduledReceipts', 'Scheduled receipts'],
  ['projectedAvailable', 'Projected available'],
  ['netRequirements', 'Net requirements'],
  ['plannedReceipts', 'Planned order receipts'],
  ['plannedReleases', 'Planned order releases'],
] as const

const exactly = (steps: number, item: PlannedItem): string => toText(ratio(item.step).mul(ratio(BigInt(steps))))

/** The rows of a plan's board as they are chosen, sorted and searched. */
export function useBoardRows(plan: () => BoardPlan, choice: () => BoardChoice) {
  const { day } = usePrint()
  const buckets = computed(() => bucketsOf(plan().startsOn, plan().endsOn, choice().grain, day))
  const lateOrders = computed(() =>
    groupBy(
      plan().orders.filter((order) => order.state !== 'released' && order.lateBy > 0),
      (order) => order.node,
    ),
  )

  function rowOf(node: NodePlan): BoardRow {
    const cells = cellsOf(node, buckets.value)
    const highest = cells.map((cell) => Math.max(cell.projectedAvailable, cell.scheduledReceipts, cell.plannedReceipts))
    const top = Math.max(node.safety, 1, ...highest)
    const bottom = -Math.max(0, ...cells.map(shortageOf))
    return {
      node,
      item: plan().items[node.id]!,
      cells,
      late: lateColumns(cells, buckets.value, lateOrders.value.get(node.id) ?? []),
      top,
      bottom: Math.min(bottom, -top * 0.25),
      firstShortage: cells.findIndex((cell) => cell.lowest < node.safety),
    }
  }
  function isWanted(row: BoardRow): boolean {
    if (choice().only === 'holes') {
      return row.firstShortage >= 0
    }
    return choice().only === 'all' || row.cells.some((cell) => cell.plannedReceipts > 0 || cell.plannedReleases > 0)
  }
  function isFound({ item }: BoardRow): boolean {
    const text = `${item.code} ${item.name} ${item.site ?? ''} ${item.group} ${item.supplier ?? ''}`
    return text.toLowerCase().includes(choice().search.toLowerCase())
  }
  function compare(a: BoardRow, b: BoardRow): number {
    return compareBy(choice().sort, a, b) || a.node.level - b.node.level || (a.item.code < b.item.code ? -1 : 1)
  }
  const rows = computed(() => {
    const wanted = plan()
      .nodes.map(rowOf)
      .filter((row) => isWanted(row) && isFound(row))
      .sort(compare)
    return choice().scale === 'unit' ? toOneScale(wanted) : wanted
  })
  /** Of each column: how many of the rows have something late in it. */
  const lateCounts = computed(() => buckets.value.map((_, index) => rows.value.filter((row) => row.late[index]).length))
  /** What rows are ordered by is told beside them. */
  function beside(item: PlannedItem): string {
    if (choice().sort === 'group') {
      return `${item.group} · ${item.name}`
    }
    if (choice().sort === 'supplier' && item.supplier) {
      return `${item.supplier} · ${item.name}`
    }
    return item.name
  }
  /** The board as a file: six lines an item, a column a span of days. */
  const asLines = (): string[][] => [
    ['item', 'site', 'unit', 'line', ...buckets.value.map((bucket) => bucket.first)],
    ...rows.value.flatMap((row) =>
      BOARD_LINES.map(([key, name]) => [
        row.item.code,
        row.item.site ?? '',
        row.item.symbol,
        name,
        ...row.cells.map((cell) => exactly(cell[key], row.item)),
      ]),
    ),
  ]
  return { buckets, rows, lateCounts, beside, asLines }
}

/**
 * Of each column: whether the balance falls below zero in it whatever is ordered, or an order wanted in it comes only
 * later.
 */
export const lateColumns = (
  cells: readonly BoardCell[],
  buckets: readonly Bucket[],
  lateOrders: readonly Pick<PlannedOrder, 'dueOn' | 'promisedOn'>[],
): readonly boolean[] =>
  cells.map((cell, index) => {
    const { first, last } = buckets[index]!
    return cell.lowestProjected < 0 || lateOrders.some((order) => order.dueOn <= last && order.promisedOn > first)
  })

/** Rows counted in the same unit drawn to the scale of the one that needs most room, both ways. */
export function toOneScale(rows: readonly BoardRow[]): BoardRow[] {
  const scales = new Map<string, { top: number; bottom: number }>()
  const stepOf = (row: BoardRow): number => Number(ratio(row.item.step))
  for (const row of rows) {
    const scale = scales.get(row.item.symbol) ?? { top: 0, bottom: 0 }
    scales.set(row.item.symbol, {
      top: Math.max(scale.top, row.top * stepOf(row)),
      bottom: Math.min(scale.bottom, row.bottom * stepOf(row)),
    })
  }
  return rows.map((row) => {
    const { top, bottom } = scales.get(row.item.symbol)!
    return { ...row, top: top / stepOf(row), bottom: bottom / stepOf(row) }
  })
}

function compareBy(sort: BoardChoice['sort'], a: BoardRow, b: BoardRow): number {
  if (sort === 'hole') {
    return (a.firstShortage < 0 ? 9999 : a.firstShortage) - (b.firstShortage < 0 ? 9999 : b.firstShortage)
  }
  if (sort === 'level') {
    return a.node.level - b.node.level
  }
  // What no supplier delivers comes after what one does.
  const [first, second] = [a.item[sort] ?? '\uFFFF', b.item[sort] ?? '\uFFFF']
  if (first === second) {
    return 0
  }
  return first < second ? -1 : 1
}

const known = new WeakMap<BoardRow, readonly string[]>()
/** The drawings of a row's cells: made once, however often the row comes in sight. */
export function drawingsOf(row: BoardRow): readonly string[] {
  const scale = { top: row.top, bottom: row.bottom, safety: row.node.safety, source: row.item.plannedSource }
  const drawings = known.get(row) ?? row.cells.map((cell) => drawCell(cell, scale))
  known.set(row, drawings)
  return drawings
}
