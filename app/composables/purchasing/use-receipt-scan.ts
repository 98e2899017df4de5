import { readScan, scanInField } from '~~/core/codes'
import { useLocalStorage } from '@vueuse/core'

/** A line that a scan can lead to. */
interface ScannedRow {
  readonly line: {
    readonly id: number
    readonly itemId: number
    readonly code: string
    readonly supplierCode: string
    readonly tracking: string
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
  const code = codes.find((known) => known !== '' && written.endsWith(known.toLowerCase()) && !/^\d+$/.test(known))
  return code ? { typed: text.trim().slice(0, -code.length), code } : null
}

/**
 * Goods in with a scanner: a scan leads to the line of its item, or counts one more of it, as somebody sets it. It is
 * read wherever it lands, in its own field or behind a figure just typed; it never records.
 */
export function useReceiptScan(rows: readonly ScannedRow[]) {
  const text = ref('')
  const unknown = ref('')
  const said = ref('')
  const countsOne = useLocalStorage('tsumiki-receive-scan-counts', false)
  const codes = rows.flatMap(({ line }) => [line.code, line.supplierCode])

  async function rowOf(code: string): Promise<{ row: ScannedRow; unit: string | null } | null> {
    const scanned = readScan(code).code.toLowerCase()
    const own = rows.find(({ line }) => [line.code, line.supplierCode].some((known) => known.toLowerCase() === scanned))
    if (own) {
      return { row: own, unit: null }
    }
    const things = await $fetch('/api/find', { query: { text: code } })
    const thing = things.find((entry) => entry.kind === 'item' && entry.by)
    const row = thing && rows.find(({ line }) => line.itemId === thing.id)
    return row ? { row, unit: thing.unit ?? null } : null
  }
  function focus(row: ScannedRow): void {
    const field = document.querySelector<HTMLInputElement>(`[data-receives="${row.line.id}"] input`)
    field?.focus()
    field?.select()
  }
  /** Leads to the line of a code, and takes over the lot and the expiry day that it carries. */
  async function take(code: string): Promise<void> {
    unknown.value = ''
    said.value = ''
    const found = await rowOf(code)
    if (!found) {
      unknown.value = `“${code}” is not to come on this order.`
      return
    }
    const { row, unit } = found
    const { lot, expiresOn } = readScan(code)
    if (row.line.tracking === 'lot') {
      row.lot = lot ?? row.lot
      row.expiresOn = expiresOn ?? row.expiresOn
    }
    if (!countsOne.value) {
      focus(row)
      return
    }
    row.unit = unit ?? row.unit
    row.quantity = String(Number(row.quantity || '0') + 1)
    said.value = `${row.line.code}: ${row.quantity}`
    document.querySelector<HTMLInputElement>('[data-receives=scan] input')?.focus()
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
  function onQuantity(event: KeyboardEvent, row: ScannedRow): void {
    const scanned = scannedBehind((event.target as HTMLInputElement).value, codes)
    if (scanned) {
      event.preventDefault()
      row.quantity = scanned.typed
      void take(scanned.code)
    }
  }
  return { text, unknown, said, countsOne, onScan, onQuantity }
}
