import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { FileFault, Mapping } from '~~/shared/catalogue/import'
import { isAllowed, rolesWith, type Right } from '~~/shared/company/rights'
import type { Sheet } from './read-file'
import type { Taken, Watch } from './take-in'

/** The columns of files that fill no table of the catalogue. */
const OWN_COLUMNS = {
  'opening-stock': {
    all: ['item', 'bin', 'lot', 'piece', 'quantity', 'unit', 'unit_cost', 'expires_on', 'on', 'status', 'traits'],
    needed: ['item', 'bin', 'quantity'],
  },
  'past-sales': {
    all: ['item', 'sold_on', 'quantity', 'unit', 'value', 'cost', 'customer', 'site'],
    needed: ['item', 'sold_on', 'quantity'],
  },
  'sales-orders': {
    all: [
      'number',
      'customer',
      'ordered_on',
      'due_on',
      'item',
      'quantity',
      'unit',
      'price',
      'site',
      'priority',
      'note',
    ],
    needed: ['customer', 'due_on', 'item', 'quantity'],
  },
  forecast: { all: ['forecast', 'item', 'period', 'quantity', 'unit'], needed: ['item'] },
  'goods-received': {
    all: [
      'order',
      'line',
      'item',
      'quantity',
      'unit',
      'bin',
      'lot',
      'expires_on',
      'serial',
      'packing_list',
      'received_on',
      'reason',
    ],
    needed: ['order', 'quantity'],
  },
} as const
export type OwnFile = keyof typeof OWN_COLUMNS
export const isOwnFile = (name: string): name is OwnFile => name in OWN_COLUMNS

/** Other words that the headings of a file may use. */
const ALSO: Readonly<Record<string, readonly string[]>> = {
  item: ['code', 'sku', 'article'],
  sold_on: ['date', 'day', 'on'],
  period: ['week', 'month', 'from', 'starts_on'],
  value: ['amount', 'revenue'],
  on: ['date', 'day', 'effective_on', 'received_on'],
  due_on: ['due'],
  number: ['order', 'order_number'],
  order: ['order_number', 'purchase_order', 'number', 'po'],
  line: ['order_line', 'position', 'pos'],
  serial: ['piece', 'label', 'serial_number'],
  packing_list: ['despatch_advice', 'delivery_note'],
  expires_on: ['expiry', 'best_before'],
  forecast: ['forecast_name'],
}
const bare = (heading: string): string =>
  heading
    .trim()
    .toLowerCase()
    .replace(/[\s-]+/g, '_')

export const ownColumns = (name: OwnFile): { name: string; needed: boolean }[] =>
  OWN_COLUMNS[name].all.map((column) => ({
    name: column,
    needed: (OWN_COLUMNS[name].needed as readonly string[]).includes(column),
  }))
export const matchOwn = (name: OwnFile, headings: readonly string[]): Mapping =>
  Object.fromEntries(
    OWN_COLUMNS[name].all.map((column) => {
      const called = (word: string): string | undefined => headings.find((heading) => bare(heading) === word)
      return [
        column,
        called(column) ?? (ALSO[column] ?? []).map(called).find((heading) => heading !== undefined) ?? null,
      ]
    }),
  )

export interface OwnHow {
  readonly batchId: number | null
  readonly label: string
  readonly decimalSign: '.' | ','
  readonly watch?: Watch
}
type Line = Sheet['lines'][number]

/** The lines of such a file with their cells by column, and a place for faults. */
export class FileReader {
  readonly faults: FileFault[] = []
  constructor(
    readonly file: OwnFile,
    readonly sheet: Sheet,
    readonly mapping: Mapping,
  ) {
    for (const { name, needed } of ownColumns(file)) {
      if (needed && !mapping[name]) {
        this.faults.push({
          file,
          line: 1,
          column: name,
          text: '',
          detail: `No column of the file is matched with “${name}”, which is needed.`,
        })
      }
    }
    if (sheet.lines.length === 0) {
      this.faults.push({
        file,
        line: 1,
        column: ownColumns(file)[0]!.name,
        text: '',
        detail: 'The file has no lines below its headings.',
      })
    }
  }

  cell(line: Line, column: string): string {
    const heading = this.mapping[column]
    return heading ? (line.cells[heading] ?? '').trim() : ''
  }
  fault(line: Line | null, column: string, detail: string): void {
    this.faults.push({
      file: this.file,
      line: line?.line ?? 1,
      column: this.mapping[column] ?? column,
      text: line ? this.cell(line, column) : '',
      detail,
    })
  }
  /** Does what may be refused; a refusal is told at the column. */
  async at<T>(line: Line, column: string, act: () => T | Promise<T>): Promise<T | null> {
    try {
      return await act()
    } catch (error) {
      if (!(error instanceof Refusal)) {
        throw error
      }
      this.fault(line, column, Object.values(error.fields ?? {})[0] ?? error.detail)
      return null
    }
  }

  answer(made: number, changed = 0): Taken {
    return {
      rows: this.sheet.lines.length,
      made: this.faults.length > 0 ? 0 : made,
      changed: this.faults.length > 0 ? 0 : changed,
      faults: this.faults,
    }
  }
}

export function requireFor(actor: Actor, right: Right, what: string): void {
  if (!isAllowed(actor, right)) {
    throw new Refusal(
      'missing-right',
      `You are signed in as ${actor.role}. ${what} need one of: ${rolesWith(right).join(', ')}.`,
    )
  }
}
