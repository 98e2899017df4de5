import { bindLine } from '~~/core/structure/lines'
import type { StructureLine } from '~~/core/structure'
import { convert, describeUnitError } from '~~/core/units/graph'
import { parseQuantity, typedQuantity, printAmount, type ItemMeasure } from '~~/core/units/quantity'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { measureOf, type UnitRow } from '~~/shared/catalogue/measure'
import { round9, PartStructure, type PartItem, type Parts } from '~~/shared/structure/parts'
import type { BillEdit } from '~~/shared/structure/requests'
import type { AsForm } from '../ui/as-form'

export type BillForm = AsForm<BillEdit> & { id: number; version: number }
export type LineForm = BillForm['lines'][number]

export const blankLine = (): LineForm =>
  ({
    position: '',
    itemId: null,
    quantity: '',
    unit: 'piece',
    basis: 'per batch',
    scrapPercent: '0',
    offsetDays: '0',
    phantom: false,
    note: '',
    substitutes: [],
  }) as unknown as LineForm

/** What stands on the form but is not sent: lines, by-products, steps and substitutes that are only begun. */
export function billOf(
  form: BillForm,
  exact: (itemId: number, quantity: string, unit: string) => string,
): { definition: Record<string, unknown>; lines: number[] } {
  const { id, version, ...bill } = form
  void [id, version]
  const lines = form.lines
    .map((line, index) => ({ line, at: index }))
    .filter(({ line }) => line.itemId !== null && line.quantity.trim() !== '')
  return {
    lines: lines.map(({ at: index }) => index),
    definition: {
      ...bill,
      lines: lines.map(({ line: { position, ...line } }) => {
        void position
        return {
          ...line,
          quantity: exact(line.itemId!, line.quantity, line.unit),
          offsetDays: line.offsetDays || '0',
          scrapPercent: line.scrapPercent || '0',
          substitutes: line.substitutes.filter((substitute) => substitute.itemId !== null),
        }
      }),
      byProducts: form.byProducts
        .filter((byProduct) => byProduct.itemId !== null && byProduct.quantity.trim() !== '')
        .map((byProduct) => ({
          ...byProduct,
          quantity: exact(byProduct.itemId!, byProduct.quantity, byProduct.unit),
          sharePercent: byProduct.sharePercent || '0',
        })),
      steps: form.steps
        .filter((step) => step.text.trim() !== '')
        .map(({ position, ...step }) => {
          void position
          return step
        }),
    },
  }
}

/** Faults of the lines that were sent, at the lines where they stand. */
export const placedFaults = (fields: Record<string, string>, lines: readonly number[]): Record<string, string> =>
  Object.fromEntries(
    Object.entries(fields).map(([field, summary]) => [
      field.replace(/^lines\.(\d+)/, (_, index: string) => `lines.${lines[Number(index)] ?? index}`),
      summary,
    ]),
  )

export interface LineSays {
  readonly kind: 'fault' | 'note'
  readonly text: string
  readonly bridge?: { readonly from: string; readonly to: string }
  readonly write?: number
}
export interface Drawn {
  readonly structure: PartStructure | null
  readonly summary: readonly (readonly LineSays[])[]
}

export const measureOfPart = (units: readonly UnitRow[], item: PartItem): ItemMeasure | null => {
  const built = measureOf(units, item)
  return built.ok ? built.value : null
}

/** Reads an amount as it is typed, in one of an item's units. */
export function readAmount(
  measure: ItemMeasure,
  typed: string,
  unit: string,
  decimalSign: '.' | ',',
): { amount: Ratio; unit: string } | { fault: string; bridge?: { from: string; to: string } } {
  const nameOf = (code: string): string => measure.graph.units.get(code)?.name ?? code
  const read = parseQuantity(typedQuantity(typed), {
    graph: measure.graph,
    unit,
    loose: measure.stockUnit,
    decimalSign,
  })
  if (!read.ok) {
    return {
      fault: describeUnitError(read.error, nameOf),
      ...(read.error.code === 'no-path' ? { bridge: { from: read.error.from, to: read.error.to } } : {}),
    }
  }
  const inStock = convert(measure.graph, read.value.amount, read.value.unit, measure.stockUnit)
  if (!inStock.ok) {
    return {
      fault: describeUnitError(inStock.error, nameOf),
      ...(inStock.error.code === 'no-path' ? { bridge: { from: inStock.error.from, to: inStock.error.to } } : {}),
    }
  }
  return read.value
}

/**
 * The exact text of what was typed, in the unit of the field; as typed where it cannot be read, so that it is refused
 * with its sentence.
 */
export function exactIn(measure: ItemMeasure | null, typed: string, unit: string, decimalSign: '.' | ','): string {
  if (!measure) {
    return typed
  }
  const read = readAmount(measure, typed, unit, decimalSign)
  if ('fault' in read) {
    return typed
  }
  const inUnit = convert(measure.graph, read.amount, read.unit, unit)
  return inUnit.ok ? toText(inUnit.value) : typed
}

/**
 * The structure as the form has it now, over what is below its components; and what there is to say of each line.
 *
 * Lines that cannot be read are left out of the structure and told.
 */
export function drawDraft(form: BillForm, parts: Parts, units: readonly UnitRow[], decimalSign: '.' | ','): Drawn {
  const items = new Map(parts.items.map((item) => [item.id, item]))
  const root = items.get(form.itemId!)
  const measures = new Map<number, ItemMeasure | null>()
  const measure = (item: PartItem): ItemMeasure | null => {
    if (!measures.has(item.id)) {
      measures.set(item.id, measureOfPart(units, item))
    }
    return measures.get(item.id)!
  }
  if (!root) {
    return { structure: null, summary: form.lines.map(() => []) }
  }
  const batch = readBatch(form, measure(root), decimalSign)
  const outputYield = share(form.yieldPercent)
  const summary: LineSays[][] = form.lines.map(() => [])
  const own = form.lines.flatMap((line, index): StructureLine[] => {
    const part = line.itemId === null ? undefined : items.get(line.itemId)
    const partMeasure = part && measure(part)
    if (!part || (line.quantity.trim() !== '' && !partMeasure)) {
      return []
    }
    const { bound, notes } = readLine({ line, part, measure: partMeasure ?? null, batch, decimalSign })
    const hasNoBill = bound !== null && isMadeHere(part) && !parts.lines.some((other) => other.parent === part.id)
    summary[index]!.push(
      ...notes,
      ...(hasNoBill ? [{ kind: 'note' as const, text: `${part.code} has no bill in use yet.`, write: part.id }] : []),
    )
    if (bound === null) {
      return []
    }
    return [
      {
        parent: String(root.id),
        child: String(part.id),
        per: bound.per,
        fixed: bound.fixed,
        scrap: share(line.scrapPercent, 99.999),
        outputYield: outputYield.equals(ZERO) ? ratio(1) : outputYield,
        offsetDays: Number(line.offsetDays) || 0,
        phantom: line.phantom,
      },
    ]
  })
  const merged: Parts = {
    ...parts,
    lines: [
      ...parts.lines.filter((line) => line.parent !== root.id),
      ...own.map((line) => ({
        parent: root.id,
        child: Number(line.child),
        per: toText(line.per),
        fixed: toText(line.fixed),
        scrap: toText(line.scrap),
        outputYield: toText(line.outputYield),
        offsetDays: line.offsetDays ?? 0,
        phantom: line.phantom ?? false,
      })),
    ],
    bills: [
      ...parts.bills.filter((bill) => bill.itemId !== root.id),
      {
        id: form.id,
        itemId: root.id,
        revision: Number(form.revision),
        batch: toText(batch),
        ...added(form, batch, outputYield),
        keeps: toText(
          ratio(1).sub(form.byProducts.reduce((sum, byProduct) => sum.add(share(byProduct.sharePercent)), ZERO)),
        ),
      },
    ],
  }
  const built = PartStructure.of(merged)
  if (built.ok) {
    return { structure: built.value, summary }
  }
  const path = built.loop.map((id) => items.get(id)?.code ?? '…').join(' → ')
  const position = form.lines.findIndex(
    (line) => line.itemId !== null && built.loop.some((id, i) => id === root.id && built.loop[i + 1] === line.itemId),
  )
  if (position >= 0) {
    summary[position]!.unshift({
      kind: 'fault',
      text: `This would run in a circle: ${path}. An item cannot contain itself.`,
    })
  }
  return { structure: null, summary }
}

const isMadeHere = (part: PartItem): boolean => part.source === 'made' || part.source === 'kit'

/** What a line of the form takes, bound to its batch; null where it cannot be read. And what there is to say of it. */
function readLine(entry: {
  line: LineForm
  part: PartItem
  measure: ItemMeasure | null
  batch: Ratio
  decimalSign: '.' | ','
}): { bound: { per: Ratio; fixed: Ratio } | null; notes: LineSays[] } {
  const { line, part, measure, batch, decimalSign } = entry
  if (line.quantity.trim() === '' || !measure) {
    return { bound: null, notes: [{ kind: 'note', text: 'Without a quantity it is not kept yet.' }] }
  }
  const notes: LineSays[] = []
  if (part.status === 'retired') {
    notes.push({ kind: 'fault', text: `${part.code} is retired. Take another before this revision is used.` })
  }
  const read = readAmount(measure, line.quantity, line.unit, decimalSign)
  if ('fault' in read) {
    notes.push({ kind: 'fault', text: read.fault, ...(read.bridge ? { bridge: read.bridge } : {}) })
    return { bound: null, notes }
  }
  const bound = bindLine(
    { quantity: read.amount, unit: read.unit, basis: line.basis as 'per batch' | 'per build' },
    { graph: measure.graph, stockUnit: measure.stockUnit },
    batch,
  )
  if (!bound.ok || read.amount.compare(ZERO) <= 0) {
    return { bound: null, notes }
  }
  const whole = line.basis === 'per build' ? bound.value.fixed : bound.value.per.mul(batch)
  if (whole.compare(measure.finestStep) < 0) {
    const amount = `${printAmount(whole, 6, { decimalSign, grouping: 'none' })} ${part.symbol}`
    notes.push({
      kind: 'note',
      text: `${amount} a batch is less than the finest step of ${part.finestStep} ${part.symbol}; a build takes a whole step.`,
    })
  }
  return { bound: bound.value, notes }
}

function readBatch(form: BillForm, measure: ItemMeasure | null, decimalSign: '.' | ','): Ratio {
  if (!measure) {
    return ratio(1)
  }
  const read = readAmount(measure, form.batchSize, form.batchUnit, decimalSign)
  if ('fault' in read || read.amount.compare(ZERO) <= 0) {
    return ratio(1)
  }
  const inStock = convert(measure.graph, read.amount, read.unit, measure.stockUnit)
  return inStock.ok ? inStock.value : ratio(1)
}

const PLAIN = /^\d+(\.\d+)?$/
const plain = (text: string): Ratio => (PLAIN.test(text) ? ratio(text) : ZERO)
const share = (percent: string, most = 100): Ratio =>
  PLAIN.test(percent) && Number(percent) <= most ? ratio(percent).div(100) : ZERO

function added(form: BillForm, batch: Ratio, outputYield: Ratio): { work: string; other: string } {
  const good = outputYield.equals(ZERO) ? ratio(1) : outputYield
  return {
    work: toText(
      round9(
        plain(form.workMinutes).div(batch).add(plain(form.minutesPerUnit)).div(good).div(60).mul(plain(form.workRate)),
      ),
    ),
    other: toText(round9(plain(form.otherCost).div(batch).div(good))),
  }
}
