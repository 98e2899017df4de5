import { toDecimal } from '~~/core/units/exact'
import type { CostedRow, PartItem, PartStructure } from '~~/shared/structure/parts'
import type { UnitRow } from '~~/shared/catalogue/measure'

export const TOWER_WIDTHS = ['cost', 'lead time', 'mass'] as const
export type TowerWidth = (typeof TOWER_WIDTHS)[number]
export interface TowerBlock {
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly source: string
  readonly isShort: boolean
  readonly x: number
  readonly width: number
  readonly course: number
  readonly label: string
  readonly isMade: boolean
  readonly quantity: string
  readonly symbol: string
}
/** `own` is the work and other cost of the item on top, beside what it is made of. */
export interface Tower {
  readonly blocks: readonly TowerBlock[]
  readonly own: { readonly x: number; readonly width: number; readonly label: string } | null
  readonly courses: number
  readonly width: number
}

const GAP = 4
const LEAST = 22

/**
 * A structure as courses of blocks: the finished item on top, each item on the course of its longest way down.
 *
 * By cost and mass all blocks are to one scale, that of the whole, and a block stands below what it goes into; by lead
 * time each course is shared out. None is narrower than can be grasped.
 */
export function towerOf(asked: {
  readonly structure: PartStructure
  readonly rootId: number
  readonly rows: readonly CostedRow[]
  readonly quantity: number
  readonly measured: TowerWidth
  readonly units: readonly UnitRow[]
  readonly width: number
  readonly money: (text: string) => string
}): Tower {
  const { structure, rootId, rows, measured, width } = asked
  const own = measured === 'cost' && rows.length > 0 ? structure.addedTo(rootId) * asked.quantity : 0
  const weights = new Map(rows.map((row) => [row.itemId, weightOf(row, asked)]))
  const direct = structure.parts.lines.filter((line) => line.parent === rootId).map((line) => line.child)
  const whole = own + [...new Set(direct)].reduce((sum, id) => sum + (weights.get(id) ?? 0), 0)
  const ownWidth = whole > 0 && own > 0 ? Math.max(LEAST, (own / whole) * width) : 0
  const room = ownWidth > 0 ? width - ownWidth - GAP : width
  const courses = Math.max(0, ...rows.map((row) => row.level))
  const placed = new Map<number, number>()
  /** Where the leftmost of what it goes into stands. */
  const above = (id: number): number =>
    Math.min(
      ...structure.parts.lines
        .filter((line) => line.child === id && placed.has(line.parent))
        .map((line) => placed.get(line.parent)!),
      width,
    )
  const isShared = measured === 'lead time' || whole <= 0
  const blocks = Array.from({ length: courses }, (_, index) => {
    const course = rows
      .filter((row) => row.level === index + 1)
      .map((row) => ({
        row,
        weight: weights.get(row.itemId)!,
        x: index === 0 || measured === 'lead time' ? 0 : above(row.itemId),
      }))
      .sort((a, b) => a.x - b.x || b.weight - a.weight)
    const gaps = GAP * (course.length - 1)
    const least = Math.min(LEAST, (room - gaps) / course.length)
    const widths = isShared
      ? shareRoom(
          course.map((entry) => entry.weight),
          room - gaps,
          least,
        )
      : course.map((entry) => Math.max(least, (entry.weight / whole) * width - GAP))
    const laid = lay(
      course.map((entry, place) => ({ x: isShared ? 0 : entry.x, width: widths[place]! })),
      room,
    )
    return course.map(({ row, weight }, place): TowerBlock => {
      const item: PartItem = structure.items.get(String(row.itemId))!
      placed.set(row.itemId, laid[place]!.x)
      return {
        itemId: row.itemId,
        code: item.code,
        name: item.name,
        source: item.source,
        isShort: row.isShort,
        ...laid[place]!,
        course: index + 1,
        label: labelOf(row, weight, asked),
        isMade: structure.isMade(row.itemId),
        quantity: toDecimal(row.quantity, 4).replace(/\.?0+$/, ''),
        symbol: item.symbol,
      }
    })
  }).flat()
  return {
    blocks,
    courses,
    width,
    own: ownWidth > 0 ? { x: width - ownWidth, width: ownWidth, label: asked.money(own.toFixed(2)) } : null,
  }
}

type TowerRequest = Parameters<typeof towerOf>[0]
/** How wide a block wants to be: money, days, or kilograms. */
function weightOf(row: CostedRow, { structure, measured, units }: TowerRequest): number {
  if (measured === 'lead time') {
    return structure.items.get(String(row.itemId))!.leadDays
  }
  const amount = measured === 'cost' ? row.money.total : structure.mass(row.itemId, units).known.mul(row.quantity)
  return Number(toDecimal(amount, 6))
}
function labelOf(row: CostedRow, weight: number, { measured, money }: TowerRequest): string {
  if (measured === 'cost') {
    return money(toDecimal(row.money.total, 2))
  }
  if (measured === 'lead time') {
    return `${weight} days`
  }
  return weight === 0 ? '' : `${+weight.toPrecision(3)} kg`
}

/**
 * Lays blocks side by side, each as near to the place that it asks for as the others let it; narrower where there is no
 * room.
 */
export function lay(
  blocks: readonly { readonly x: number; readonly width: number }[],
  room: number,
): { x: number; width: number }[] {
  const needed = blocks.reduce((sum, block) => sum + block.width, 0) + GAP * (blocks.length - 1)
  const widths =
    needed <= room
      ? blocks.map((block) => block.width)
      : shareRoom(
          blocks.map((block) => block.width),
          room - GAP * (blocks.length - 1),
          Math.min(LEAST, (room - GAP * (blocks.length - 1)) / blocks.length),
        )
  const laid: { x: number; width: number }[] = []
  let from = 0
  blocks.forEach((block, index) => {
    const x = Math.max(from, block.x)
    laid.push({ x, width: widths[index]! })
    from = x + widths[index]! + GAP
  })
  let until = room
  for (const block of laid.reverse()) {
    if (block.x + block.width > until) {
      block.x = until - block.width
    }
    until = block.x - GAP
  }
  return laid.reverse()
}

/** Shares room by weight, none below the least; where all weigh nothing, evenly. */
export function shareRoom(weights: readonly number[], room: number, least: number): number[] {
  const sum = weights.reduce((total, weight) => total + weight, 0)
  if (sum <= 0) {
    return weights.map(() => room / weights.length)
  }
  const small = new Set(weights.flatMap((weight, index) => ((weight / sum) * room < least ? [index] : [])))
  const left = room - least * small.size
  const rest = weights.reduce((total, weight, index) => (small.has(index) ? total : total + weight), 0)
  return weights.map((weight, index) => (small.has(index) ? least : (weight / rest) * left))
}
