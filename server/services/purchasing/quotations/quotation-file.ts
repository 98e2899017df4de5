import { isIsoDate } from '~~/core/calendar/days'
import { db } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { NamedAmount } from '~~/shared/purchasing/charges'
import type { QuotationRequest } from '~~/shared/purchasing/quotations'
import { loadMeasuredItems, loadUnits } from '../../catalogue/measured-items'
import { plainNumber, readDay } from '../../catalogue/tables/columns'
import { readSheet, type Sheet } from '../../catalogue/tables/read-file'
import { sheetFile } from '../../catalogue/tables/write-file'
import { loadWriting } from '../../company/company'
import { loadRequest } from './load-request'
import { supplierCodesOf } from './supplier-codes'

const COLUMNS = [
  'Line',
  'Item',
  'Name',
  'Your code',
  'Quantity',
  'Unit',
  'Needed by',
  'Price for one unit',
  'Minimum quantity',
  'In steps of',
  'Lead time, working days',
  'From quantity (2)',
  'Price (2)',
  'From quantity (3)',
  'Price (3)',
] as const
type ColumnName = (typeof COLUMNS)[number]
/** What a supplier answers beside the lines stands in the column of prices, under the lines. */
const REFERENCE = 'Your number'
const VALID_UNTIL = 'Prices hold until'
const CHARGE = 'Charge'
const CHARGES = ['Freight', 'Setting-up', ''] as const

/** The workbook that a supplier fills in: a line for each line asked for, and what else they say below. */
export async function quotationWorkbook(
  requestId: number,
  supplierId: number,
  today: string,
): Promise<{ name: string; bytes: Buffer }> {
  const request = await loadRequest(db, requestId, today)
  const units = new Map((await loadUnits(db)).map((unit) => [unit.code, unit.symbol]))
  const codes = await supplierCodesOf(supplierId)
  const lines = request.lines.map((line) =>
    padded([
      String(line.line),
      line.code,
      line.name,
      codes.get(line.itemId) ?? '',
      line.entered,
      units.get(line.unit) ?? line.unit,
      line.neededOn,
    ]),
  )
  const below = [[], ...CHARGES.map((name) => [CHARGE, name]), [VALID_UNTIL], [REFERENCE]].map(padded)
  const bytes = await sheetFile(request.number, COLUMNS, [...lines, ...below], 'xlsx')
  return { name: `${request.number}.xlsx`, bytes: Buffer.from(bytes) }
}

const padded = (cells: readonly string[]): string[] => COLUMNS.map((_, index) => cells[index] ?? '')

interface ReadLine {
  readonly lineId: number
  readonly unit: string
  readonly price: string
  readonly minimum: string
  readonly multiple: string
  readonly leadDays: string
  readonly tiers: readonly { readonly fromQuantity: string; readonly price: string }[]
}
/** A supplier's answer as it fills the form; `faults`: what could not be read, by line of the file. */
export interface ReadQuotation {
  readonly reference: string
  readonly validUntil: string | null
  readonly charges: readonly NamedAmount[]
  readonly lines: readonly ReadLine[]
  readonly faults: readonly { readonly line: number; readonly detail: string }[]
}

type Line = Sheet['lines'][number]

/**
 * Reads the workbook that a supplier filled in, or a CSV of its columns. Nothing is recorded by it: what was read, and
 * what could not be, is looked at first.
 *
 * Errors: `invalid-input` where the file is not one of this request.
 */
export async function readQuotation(
  requestId: number,
  file: { readonly fileName: string; readonly content: string },
  today: string,
): Promise<ReadQuotation> {
  const request = await loadRequest(db, requestId, today)
  const sheet = await readSheet(file.fileName, Buffer.from(file.content, 'base64'))
  const missing = ['Line', 'Price for one unit'].filter((name) => !sheet.headings.includes(name))
  if (missing.length > 0) {
    throw new Refusal('invalid-input', `The file has no column “${missing[0]}”. Choose the workbook that was sent.`)
  }
  const { decimalSign } = await loadWriting()
  const reader = new AnswerReader(request, decimalSign, await leadDaysOf(request))
  for (const line of sheet.lines) {
    reader.read(line)
  }
  return reader.answer
}

/** The lead time that is taken where the supplier gives none: the item's own. */
async function leadDaysOf(request: QuotationRequest): Promise<ReadonlyMap<number, number>> {
  const items = await loadMeasuredItems(
    db,
    request.lines.map((line) => line.itemId),
  )
  return new Map([...items.values()].map((item) => [item.id, item.leadDays]))
}

/** Takes a workbook line by line, and keeps what could not be read. */
class AnswerReader {
  private readonly lines: ReadLine[] = []
  private readonly charges: NamedAmount[] = []
  private readonly faults: { line: number; detail: string }[] = []
  private reference = ''
  private validUntil: string | null = null

  constructor(
    private readonly request: QuotationRequest,
    private readonly decimalSign: '.' | ',',
    private readonly leadDays: ReadonlyMap<number, number>,
  ) {}

  get answer(): ReadQuotation {
    const { reference, validUntil, charges, lines, faults } = this
    return { reference, validUntil, charges, lines, faults }
  }

  /** A line of the file: of the request, or what stands below its lines. */
  read(line: Line): void {
    const first = this.cell(line, 'Line')
    const value = this.cell(line, 'Price for one unit')
    if (value === '') {
      return
    }
    if (first === REFERENCE) {
      this.reference = value.slice(0, 60)
    } else if (first === VALID_UNTIL) {
      this.validUntil = this.day(line, value)
    } else if (first === CHARGE) {
      this.readCharge(line, value)
    } else {
      this.readLine(line, first)
    }
  }

  private readCharge(line: Line, value: string): void {
    const amount = this.number(line, 'Price for one unit', value)
    if (amount !== null && Number(amount) !== 0) {
      this.charges.push({ name: this.cell(line, 'Item') || 'Charge', amount })
    }
  }

  private readLine(line: Line, first: string): void {
    const asked = this.request.lines.find((entry) => String(entry.line) === first)
    if (!asked) {
      this.fault(line, `There is no line ${first || '(empty)'} in ${this.request.number}.`)
      return
    }
    const price = this.number(line, 'Price for one unit')
    const minimum = this.number(line, 'Minimum quantity', undefined, '0')
    const multiple = this.number(line, 'In steps of', undefined, '0')
    const leadDays = this.number(
      line,
      'Lead time, working days',
      undefined,
      String(this.leadDays.get(asked.itemId) ?? 0),
    )
    if (price === null || minimum === null || multiple === null || leadDays === null) {
      return
    }
    if (!/^\d{1,4}$/.test(leadDays)) {
      this.fault(line, `Lead time: “${leadDays}” is no number of whole days.`)
      return
    }
    this.lines.push({ lineId: asked.id, unit: asked.unit, price, minimum, multiple, leadDays, tiers: this.tiers(line) })
  }

  private tiers(line: Line): { fromQuantity: string; price: string }[] {
    return ([2, 3] as const).flatMap((tier) => {
      const fromQuantity = this.number(line, `From quantity (${tier})`, undefined, '')
      const price = this.number(line, `Price (${tier})`, undefined, '')
      return fromQuantity && price ? [{ fromQuantity, price }] : []
    })
  }

  private cell(line: Line, column: ColumnName): string {
    return line.cells[column]?.trim() ?? ''
  }

  /** A number of a cell; null, with a fault, where it is none. */
  private number(line: Line, column: ColumnName, given = this.cell(line, column), empty = ''): string | null {
    if (given === '') {
      return empty
    }
    const plain = plainNumber(given, this.decimalSign)
    if (!/^\d{1,12}(\.\d{1,6})?$/.test(plain)) {
      this.fault(line, `${column}: “${given}” is no number.`)
      return null
    }
    return plain
  }

  private day(line: Line, value: string): string | null {
    try {
      const day = readDay(value)
      return isIsoDate(day) ? day : null
    } catch {
      this.fault(line, `${VALID_UNTIL}: “${value}” is no date. Write it as year-month-day, for example 2026-10-05.`)
      return null
    }
  }

  private fault({ line }: Line, detail: string): void {
    this.faults.push({ line, detail })
  }
}
