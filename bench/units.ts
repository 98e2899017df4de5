import { buildUnitGraph, convert, standardUnits } from '~~/core/units/graph'
import { parseQuantity, typedQuantity } from '~~/core/units/quantity'
import { ratio } from '~~/core/units/exact'
import { best, type Figure } from './figure'

const TIMES = 20_000

export async function* run(): AsyncGenerator<Figure> {
  const built = buildUnitGraph(standardUnits, [
    { unit: 'pallet', per: ratio(40), of: 'ream' },
    { unit: 'kg', per: ratio('340/7'), of: 'sheet' },
  ])
  if (!built.ok) {
    throw new Error(built.error.code)
  }
  const graph = built.value
  const amount = ratio('12.5')
  const exact = await best(5, () => {
    for (let i = 0; i < TIMES; i++) {
      convert(graph, amount, 'pallet', 'g')
    }
  })
  const table = new Map([['pallet', ((40 * 500 * 7) / 340) * 1000]])
  let kept = 0
  const float = await best(5, () => {
    for (let i = 0; i < TIMES; i++) {
      kept += (12.5 + (i % 2)) * table.get('pallet')!
    }
  })
  const read = await best(5, () => {
    for (let i = 0; i < TIMES; i++) {
      parseQuantity(typedQuantity('2 pallet + 1/3 ream'), { graph, unit: 'sheet' })
    }
  })
  if (!Number.isFinite(kept)) {
    throw new Error('The comparison overflowed')
  }
  yield* [
    {
      bench: 'units',
      figure: 'exact conversions along a path of 4',
      value: TIMES / exact,
      unit: 'a ms',
      comparedWith: 'floating-point product from a table, a ms',
      ratio: TIMES / exact / (TIMES / float),
    },
    {
      bench: 'units',
      figure: 'typed quantities read',
      value: TIMES / read,
      unit: 'a ms',
      comparedWith: 'exact conversions, a ms',
      ratio: TIMES / read / (TIMES / exact),
    },
  ]
}
