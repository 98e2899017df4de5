import type { Result } from '~~/core/result'
import { buildUnitGraph, type Unit, type UnitError, type UnitGraph } from '~~/core/units/graph'
import { ratio } from '~~/core/units/exact'
import { type ItemMeasure } from '~~/core/units/quantity'

export interface UnitRow {
  readonly code: string
  readonly name: string
  readonly plural: string
  readonly symbol: string
  readonly dimension: Unit['dimension']
  readonly numerator: string | null
  readonly denominator: string | null
  readonly decimals: number
  readonly rec20: string | null
  readonly own: boolean
  readonly retired: boolean
}

/**
 * The finest step that an item held in a unit begins with: what the unit’s decimals say.
 *
 * @example a kilogram with three decimals → 0.001; a piece with none → 1
 */
export const beginningStep = ({ decimals }: Pick<UnitRow, 'decimals'>): string =>
  decimals === 0 ? '1' : `0.${'1'.padStart(decimals, '0')}`

/** One unit of an item holds so many of another: as exact text, or as the database keeps it. */
export type RelationRow = { readonly unit: string; readonly ofUnit: string } & (
  { readonly per: string } | { readonly numerator: string; readonly denominator: string }
)

export const unitOf = (row: UnitRow): Unit => ({
  ...row,
  ratio: row.numerator === null ? null : ratio(row.numerator).div(ratio(row.denominator ?? '1')),
})

const known = new WeakMap<readonly UnitRow[], ReadonlyMap<string, Unit>>()

/** The units of a list by their codes; made once a list, so that all items of one reading share them. */
function unitsByCode(units: readonly UnitRow[]): ReadonlyMap<string, Unit> {
  const there = known.get(units) ?? new Map(units.map((row) => [row.code, unitOf(row)]))
  known.set(units, there)
  return there
}

const bare = new WeakMap<readonly UnitRow[], Result<UnitGraph, UnitError>>()

/** The units alone, which all items without packs and bridges share. */
function graphOf(units: readonly UnitRow[]): Result<UnitGraph, UnitError> {
  const there = bare.get(units) ?? buildUnitGraph(unitsByCode(units), [])
  bare.set(units, there)
  return there
}

/** How an item is measured, from its rows: the one way in which server and browser join its units. */
export function measureOf(
  units: readonly UnitRow[],
  item: { readonly stockUnit: string; readonly finestStep: string; readonly relations: readonly RelationRow[] },
): Result<ItemMeasure, UnitError> {
  const graph =
    item.relations.length === 0
      ? graphOf(units)
      : buildUnitGraph(
          unitsByCode(units),
          item.relations.map((r) => ({
            unit: r.unit,
            per: 'per' in r ? ratio(r.per) : ratio(r.numerator).div(ratio(r.denominator)),
            of: r.ofUnit,
          })),
        )
  return graph.ok
    ? { ok: true, value: { graph: graph.value, stockUnit: item.stockUnit, finestStep: ratio(item.finestStep) } }
    : graph
}
