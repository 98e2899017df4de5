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
  /** What came instead of what was ordered, where something did. */
  readonly instead: { readonly itemId: number; readonly code: string } | null
  quantity: string
  unit: string
  lot: string
  expiresOn: string
}
/** The line that a scan leads to, the unit that was scanned, and the item that came. */
interface Found<Row> {
  readonly row: Row
  readonly unit: string | null
  readonly cameId: number
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
  {
    measureFor,
    isFull,
    onCame,
  }: {
    readonly measureFor: (line: Row['line']) => ItemMeasure | null
    /** Whether nothing more is to come on a line than is typed there. */
    readonly isFull: (row: Row) => boolean
    /** Another item came on a line, or the one that was ordered after all. */
    readonly onCame: (row: Row, itemId: number) => Promise<void>
  },
) {
  const { typedNumber } = useTypedNumber()
  const { asTyped } = usePrint()
  const text = ref('')
  const unknown = ref('')
  const said = ref('')
  const countsOne = useLocalStorage('tsumiki-receive-scan-counts', false)
  const codes = rows.flatMap(({ line }) => [line.code, line.supplierCode, ...line.substitutes.map(({ code }) => code)])

  /** Of several lines of one item the first that nothing stands in: each has its own lot and day. */
  const firstFree = (candidates: readonly Row[]): Row | undefined =>
    countsOne.value
      ? (candidates.find((row) => !isFull(row)) ?? candidates.at(-1))
      : (candidates.find((row) => row.quantity.trim() === '') ?? candidates[0])
  /** The line of what was scanned, and the item that came on it: another where that may stand in for it. */
  async function rowOf(code: string): Promise<Found<Row> | null> {
    const scanned = readScan(code).code.toLowerCase()
    const own = firstFree(
      rows.filter(({ line }) => [line.code, line.supplierCode].some((known) => known.toLowerCase() === scanned)),
    )
    if (own) {
      return { row: own, unit: null, cameId: own.line.itemId }
    }
    const instead = rows.flatMap(({ line }) => line.substitutes).find((entry) => entry.code.toLowerCase() === scanned)
    if (instead) {
      return rowInstead(instead.itemId)
    }
    const things = await $fetch('/api/find', { query: { text: code } })
    const thing = things.find((entry) => entry.kind === 'item' && entry.by)
    const row = thing && firstFree(rows.filter(({ line }) => line.itemId === thing.id))
    if (row || !thing) {
      return row ? { row, unit: thing.unit ?? null, cameId: row.line.itemId } : null
    }
    return rowInstead(thing.id)
  }
  function rowInstead(cameId: number): Found<Row> | null {
    const row = firstFree(rows.filter(({ line }) => line.substitutes.some(({ itemId }) => itemId === cameId)))
    return row ? { row, unit: null, cameId } : null
  }
  /** Has a line take what came; false where something else was typed on it already. */
  async function takeUp({ row, cameId }: Found<Row>): Promise<boolean> {
    const { itemId, code } = row.instead ?? row.line
    if (itemId === cameId) {
      return true
    }
    if (row.quantity.trim() !== '') {
      unknown.value = `${code} is being received on this line. Record that first.`
      return false
    }
    await onCame(row, cameId)
    if (row.instead) {
      said.value = `${row.instead.code} instead of ${row.line.code}`
    }
    return true
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
    const measure = row.instead ? null : measureFor(row.line)
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
    if (!(await takeUp(found))) {
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
