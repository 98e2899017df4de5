import { readScan, scanInField } from '~~/core/codes'
import { convert } from '~~/core/units/graph'
import { ONE, toText, ZERO } from '~~/core/units/exact'
import type { ItemMeasure } from '~~/core/units/quantity'
import { useLocalStorage } from '@vueuse/core'

/** A line that a scan can lead to. */
interface ScannedRow {
  readonly line: {
    readonly id: number
    readonly itemId: number
    readonly code: string
    readonly supplierCode: string
    readonly tracking: string
    readonly substitutes: readonly { readonly itemId: number; readonly code: string }[]
  }
  quantity: string
  unit: string
  lot: string
  expiresOn: string
}

/** What somebody typed, and the code that a scanner wrote behind it. */
export interface TypedAndScanned {
  readonly typed: string
  readonly code: string
}

/**
 * Tells what a scanner wrote into a quantity field from what was typed before it: a barcode, or the code of one of these
 * lines. Null where nothing was scanned.
 */
export function scannedBehind(text: string, codes: readonly string[]): TypedAndScanned | null {
  const found = scanInField(text)
  if (found) {
    return found
  }
  const written = text.trim().toLowerCase()
  // A scanner writes no space before a code; “2 kit” is a quantity with its unit.
  const isBehind = (known: string): boolean =>
    known !== '' &&
    !/^\d+$/.test(known) &&
    written.endsWith(known.toLowerCase()) &&
    !/\s$/.test(written.slice(0, -known.length))
  const code = codes.find(isBehind)
  return code ? { typed: text.trim().slice(0, -code.length), code } : null
}

/**
 * Goods in with a scanner: a scan leads to the line of its item, or counts one more of it, as somebody sets it. It is
 * read wherever it lands, in its own field or behind a figure just typed; it never records.
 */
export function useReceiptScan<Row extends ScannedRow>(
  rows: readonly Row[],
  measureFor: (line: Row['line']) => ItemMeasure | null,
  onSubstitute: (row: Row, itemId: number) => Promise<void>,
) {
  const { typedNumber } = useTypedNumber()
  const { asTyped } = usePrint()
  const text = ref('')
  const unknown = ref('')
  const said = ref('')
  const countsOne = useLocalStorage('tsumiki-receive-scan-counts', false)
  const codes = rows.flatMap(({ line }) => [line.code, line.supplierCode, ...line.substitutes.map(({ code }) => code)])

  async function rowOf(code: string): Promise<{ row: Row; unit: string | null } | null> {
    const scanned = readScan(code).code.toLowerCase()
    const own = rows.find(({ line }) => [line.code, line.supplierCode].some((known) => known.toLowerCase() === scanned))
    if (own) {
      return { row: own, unit: null }
    }
    const instead = rows.flatMap(({ line }) => line.substitutes).find((entry) => entry.code.toLowerCase() === scanned)
    if (instead) {
      return cameInstead(instead.itemId, instead.code)
    }
    const things = await $fetch('/api/find', { query: { text: code } })
    const thing = things.find((entry) => entry.kind === 'item' && entry.by)
    const row = thing && rows.find(({ line }) => line.itemId === thing.id)
    if (row || !thing) {
      return row ? { row, unit: thing.unit ?? null } : null
    }
    return cameInstead(thing.id, thing.code)
  }
  /** What may stand in for something that is to come leads to its line, as what came instead. */
  async function cameInstead(itemId: number, code: string): Promise<{ row: Row; unit: null } | null> {
    const row = rows.find(({ line }) => line.substitutes.some((substitute) => substitute.itemId === itemId))
    if (!row) {
      return null
    }
    await onSubstitute(row, itemId)
    said.value = `${code} instead of ${row.line.code}`
    return { row, unit: null }
  }
  const focusScan = (): void => document.querySelector<HTMLInputElement>('[data-receives=scan] input')?.focus()
  /** Goes to the quantity of a line; figures that were typed since the scan are those of this line. */
  async function goTo(row: Row): Promise<void> {
    const typed = text.value.trim()
    text.value = ''
    row.quantity = typed === '' ? row.quantity : typed
    await nextTick()
    const field = document.querySelector<HTMLInputElement>(`[data-receives="${row.line.id}"] input`)
    field?.focus()
    if (typed === '') {
      field?.select()
    }
  }
  /**
   * Counts one more of the unit that was scanned, in the unit that the line is counted in; a line that nothing stands in
   * takes that unit. False where it cannot be added.
   */
  function countOne(row: Row, unit: string | null): boolean {
    const isFirst = row.quantity.trim() === ''
    row.unit = isFirst ? (unit ?? row.unit) : row.unit
    const before = isFirst ? ZERO : typedNumber(row.quantity)
    const measure = measureFor(row.line)
    const one = measure && convert(measure.graph, ONE, unit ?? row.unit, row.unit)
    if (!before || !one?.ok) {
      return false
    }
    row.quantity = asTyped(toText(before.add(one.value)))
    return true
  }
  /**
   * Leads to the line of a code, and takes over the lot and the expiry day that it carries. Until it is known which line
   * that is, keys land in the field for scans: never in the line before.
   */
  async function take(code: string): Promise<void> {
    unknown.value = ''
    said.value = ''
    focusScan()
    const found = await rowOf(code)
    if (!found) {
      unknown.value = `“${code}” is not to come on this order.`
      return
    }
    const { row, unit } = found
    const { lot, expiresOn } = readScan(code)
    if (row.line.tracking === 'lot' && lot !== null) {
      if (row.lot !== '' && row.lot !== lot) {
        unknown.value = `This is lot ${lot}, and lot ${row.lot} of ${row.line.code} is being received. Record that first.`
        return
      }
      row.lot = lot
      row.expiresOn = expiresOn ?? row.expiresOn
    }
    if (!countsOne.value) {
      await goTo(row)
    } else if (countOne(row, unit)) {
      said.value = `${row.line.code}: ${row.quantity}`
    } else {
      unknown.value = `One more of ${row.line.code} cannot be added to what stands there; type it.`
      await goTo(row)
    }
  }
  async function onScan(event: KeyboardEvent): Promise<void> {
    event.preventDefault()
    const code = text.value.trim()
    text.value = ''
    if (code !== '') {
      await take(code)
    }
  }
  /** Enter in a quantity field: where a scanner wrote behind the figure, the figure stays and the scan goes its way. */
  function onQuantity(event: KeyboardEvent, row: Row): void {
    const scanned = scannedBehind((event.target as HTMLInputElement).value, codes)
    if (scanned) {
      event.preventDefault()
      row.quantity = scanned.typed
      void take(scanned.code)
    }
  }
  return { text, unknown, said, countsOne, onScan, onQuantity }
}
