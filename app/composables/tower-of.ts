import { toDecimal } from '~~/core/units'
import type { Ratio } from '~~/core/units'
import type { CostedRow, PartItem, PartStructure } from '~~/shared/parts'
import type { UnitRow } from '~~/shared/catalogue'

export const TOWER_WIDTHS = ['cost', 'lead time', 'mass'] as const
export type TowerWidth = (typeof TOWER_WIDTHS)[number]
export interface TowerBlock { readonly itemId: number, readonly code: string, readonly name: string, readonly source: string, readonly isShort: boolean, readonly x: number, readonly width: number, readonly course: number, readonly label: string, readonly isMade: boolean, readonly quantity: string, readonly symbol: string }
export interface Tower { readonly blocks: readonly TowerBlock[], readonly courses: number, readonly width: number }

const GAP = 4
const LEAST = 22

/**
 * A structure as courses of blocks: the finished item on top, each item on the course of its longest way down, widest first.
 * A block is as wide as its share of what is measured in its course; none is narrower than can be grasped.
 */
export function towerOf(structure: PartStructure, rows: readonly CostedRow[], measured: TowerWidth, units: readonly UnitRow[], width: number, money: (text: string) => string): Tower {
  const weigh = (row: CostedRow): number => {
    const item = structure.items.get(String(row.itemId))!
    if (measured === 'lead time') return item.leadDays
    const amount: Ratio = measured === 'cost' ? row.money.total : structure.mass(row.itemId, units).known.mul(row.quantity)
    return Number(toDecimal(amount, 6))
  }
  const label = (row: CostedRow, weight: number): string => measured === 'cost' ? money(toDecimal(row.money.total, 2)) : measured === 'lead time' ? `${weight} days` : weight === 0 ? '' : `${+weight.toPrecision(3)} kg`
  const courses = Math.max(0, ...rows.map(row => row.level))
  const blocks = Array.from({ length: courses }, (_, at) => {
    const course = rows.filter(row => row.level === at + 1).map(row => ({ row, weight: weigh(row) })).sort((a, b) => b.weight - a.weight)
    const room = width - GAP * (course.length - 1)
    const widths = shareOut(course.map(one => one.weight), room, Math.min(LEAST, room / course.length))
    let x = 0
    return course.map(({ row, weight }, i): TowerBlock => {
      const item: PartItem = structure.items.get(String(row.itemId))!
      const block = { itemId: row.itemId, code: item.code, name: item.name, source: item.source, isShort: row.isShort, x, width: widths[i]!, course: at + 1, label: label(row, weight), isMade: structure.isMade(row.itemId), quantity: toDecimal(row.quantity, 4).replace(/\.?0+$/, ''), symbol: item.symbol }
      x += widths[i]! + GAP
      return block
    })
  }).flat()
  return { blocks, courses, width }
}

/** Shares room by weight, none below the least; where all weigh nothing, evenly. */
export function shareOut(weights: readonly number[], room: number, least: number): number[] {
  const sum = weights.reduce((total, weight) => total + weight, 0)
  if (sum <= 0) return weights.map(() => room / weights.length)
  const small = new Set(weights.flatMap((weight, at) => weight / sum * room < least ? [at] : []))
  const left = room - least * small.size
  const rest = weights.reduce((total, weight, at) => small.has(at) ? total : total + weight, 0)
  return weights.map((weight, at) => small.has(at) ? least : weight / rest * left)
}
