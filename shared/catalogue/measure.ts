import type { Result } from '~~/core/result'
import { buildUnitGraph, type Unit, type UnitError, type UnitGraph } from '~~/core/units/graph'
import { ratio, toSteps, type Ratio } from '~~/core/units/exact'
import type { ItemMeasure } from '~~/core/units/quantity'

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

/** A finest step has at most so many decimals. */
const MOST_DECIMALS = 6

/**
 * The coarsest decimal step (1, 0.1, 0.01 …) that holds a quantity and all that lies on the step of now; null where
 * none of six decimals does.
 *
 * Units: the stock unit of an item, throughout.
 *
 * @example 10.4 kg at steps of 1 kg → 0.1; 400/3 ft → null
 */
export function stepThatHolds(quantity: Ratio, finestStep: Ratio): string | null {
  for (let decimals = 0; decimals <= MOST_DECIMALS; decimals++) {
    const step = beginningStep({ decimals })
    if (quantity.div(ratio(step)).d === 1n && finestStep.div(ratio(step)).d === 1n) {
      return step
    }
  }
  return null
}

/** A quantity that a step does not hold, what would become of it, and the step that holds it. */
export interface TooCoarse {
  readonly quantity: Ratio
  readonly becomes: Ratio
  readonly better: string
}

/**
 * What an item would lose at a step that is coarser than its stock unit is commonly written; null where it loses
 * nothing.
 *
 * @example kilograms (three decimals) at a step of 1 → 10.4 kg would become 10 kg; 0.001 holds it
 */
export function coarserThanUnit(finestStep: string, unit: Pick<UnitRow, 'decimals'>): TooCoarse | null {
  const [step, better] = [ratio(finestStep), beginningStep(unit)]
  if (step.compare(ratio(better)) <= 0) {
    return null
  }
  const plain = step.mul(ratio('10.4'))
  const quantity = stepThatHolds(plain, ratio(better)) === better ? plain : step.mul(ratio('10')).add(ratio(better))
  return { quantity, becomes: toSteps(quantity, step, 'recorded').quantity, better }
}

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
