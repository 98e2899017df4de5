import { balanceOf } from '~~/core/structure/roll-ups'
import { printAmount, type ItemMeasure } from '~~/core/units/quantity'
import { ZERO } from '~~/core/units/exact'
import { measureOf, type UnitRow } from '~~/shared/catalogue/measure'
import type { BreakDownEdit } from '~~/shared/structure/requests'
import type * as z from 'zod'
import type { AsForm } from '../ui/as-form'
import { exactIn, readAmount } from './use-bill-form'
import type { MeasuredItem } from '../ui/use-measure'

export type RecipeForm = Omit<AsForm<z.output<typeof BreakDownEdit>>, 'lossUnit'> & { lossUnit: string }
type MeasureFor = (itemId: number) => ItemMeasure | null

export const measureOfItem = (units: readonly UnitRow[], item: MeasuredItem): ItemMeasure | null => {
  const built = measureOf(units, item)
  return built.ok ? built.value : null
}

export const blankRecipe = (item: MeasuredItem, rank: number): RecipeForm => ({
  itemId: item.id,
  name: '',
  rank: String(rank),
  take: '1',
  unit: item.stockUnit,
  loss: '0',
  lossUnit: item.stockUnit,
  lossWrittenOff: false,
  onArrival: false,
  note: '',
  outputs: [{ itemId: null, quantity: '', unit: 'piece', share: '1' }],
})

/** What is sent: amounts exact in the unit beside them, outputs that are only begun left out. */
export function recipeOf(
  form: RecipeForm,
  bulk: ItemMeasure | null,
  measureFor: MeasureFor,
  decimalSign: '.' | ',',
): Record<string, unknown> {
  const { id, version, ...recipe } = form as RecipeForm & { id?: number; version?: number }
  void [id, version]
  const loss = exactIn(bulk, form.loss || '0', form.lossUnit || form.unit, decimalSign)
  return {
    ...recipe,
    take: exactIn(bulk, form.take, form.unit, decimalSign),
    loss: Number(loss) === 0 ? '0' : loss,
    lossUnit: Number(loss) === 0 ? null : form.lossUnit,
    outputs: form.outputs
      .filter((output) => output.itemId !== null && output.quantity.trim() !== '')
      .map((output) => ({
        ...output,
        quantity: exactIn(measureFor(output.itemId!), output.quantity, output.unit, decimalSign),
        share: output.share || '1',
      })),
  }
}

/** Whether mass or length balances, in a sentence; null while it cannot be told. */
export function balanceOfRecipe(
  form: RecipeForm,
  bulk: ItemMeasure | null,
  measureFor: MeasureFor,
  decimalSign: '.' | ',',
  symbol: (unit: string) => string,
): { readonly isEven: boolean; readonly summary: string } | null {
  const read = (measure: ItemMeasure | null, text: string, unit: string) => {
    if (!measure) {
      return null
    }
    const amount = readAmount(measure, text, unit, decimalSign)
    return 'fault' in amount ? null : { graph: measure.graph, amount: amount.amount, unit: amount.unit }
  }
  const taken = read(bulk, form.take, form.unit)
  const given = form.outputs
    .filter((output) => output.itemId !== null && output.quantity.trim() !== '')
    .map((output) => read(measureFor(output.itemId!), output.quantity, output.unit))
  if (!taken || given.length === 0 || given.includes(null)) {
    return null
  }
  const lost = /[1-9]/.test(form.loss) ? read(bulk, form.loss, form.lossUnit || form.unit) : null
  const found = balanceOf(taken, lost, given as NonNullable<(typeof given)[number]>[])
  if (!found) {
    return null
  }
  const text = (amount: typeof found.rest): string =>
    `${printAmount(amount, 6, { decimalSign, grouping: 'none' })} ${symbol(found.unit)}`
  const sum = `${text(found.goesIn)} goes in, ${text(found.comesOut)} comes out${found.lost.equals(ZERO) ? '' : `, ${text(found.lost)} is lost`}`
  if (found.rest.equals(ZERO)) {
    return { isEven: true, summary: `It balances: ${sum}.` }
  }
  return {
    isEven: false,
    summary:
      found.rest.compare(ZERO) > 0
        ? `${sum}: ${text(found.rest)} is not accounted for.`
        : `${sum}: ${text(found.rest.neg())} more comes out than goes in.`,
  }
}
