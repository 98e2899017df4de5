import type { Sheet } from '../../catalogue/tables/read-file'
import { loadUnitCodes } from './unit-codes'
import { readUbl, type Read } from './xml'

/** The columns of a file of goods received, by what a DespatchAdvice says. */
const COLUMNS = ['order', 'line', 'item', 'quantity', 'unit', 'lot', 'expires_on', 'serial', 'packing_list'] as const
type Cells = Readonly<Record<(typeof COLUMNS)[number], string>>

/**
 * A UBL 2.1 DespatchAdvice, written out a line a lot or serial number: what a supplier says is on its way, as a file of
 * goods received. Units by UN/ECE Recommendation 20.
 *
 * Errors: `invalid-input` for what is no such document.
 */
export async function sheetOfDespatch(text: string): Promise<Sheet> {
  const read = readUbl('DespatchAdvice', text)
  const units = await loadUnitCodes()
  const lines = read.all('DespatchLine').flatMap((line) => cellsOf(read, line, units))
  return { headings: COLUMNS, lines: lines.map((cells, index) => ({ line: index + 1, cells })) }
}

function cellsOf(read: Read, line: Read, units: ReadonlyMap<string, string>): Cells[] {
  const unit = line.attribute('unitCode', 'DeliveredQuantity')
  const whole = {
    order: line.text('OrderLineReference', 'OrderReference', 'ID') || read.text('OrderReference', 'ID'),
    line: line.text('OrderLineReference', 'LineID'),
    item:
      line.text('Item', 'BuyersItemIdentification', 'ID') ||
      line.text('Item', 'StandardItemIdentification', 'ID') ||
      line.text('Item', 'SellersItemIdentification', 'ID'),
    quantity: line.text('DeliveredQuantity'),
    unit: units.get(unit) ?? unit,
    lot: '',
    expires_on: '',
    serial: '',
    packing_list: read.text('ID'),
  }
  const instances = line.all('Item', 'ItemInstance')
  if (instances.length <= 1) {
    return [{ ...whole, ...(instances[0] && instanceOf(instances[0])) }]
  }
  // Instances of one line are single goods: what the line delivers is their number.
  return instances.map((instance) => ({ ...whole, quantity: '1', ...instanceOf(instance) }))
}

const instanceOf = (instance: Read): Pick<Cells, 'lot' | 'expires_on' | 'serial'> => ({
  lot: instance.text('LotIdentification', 'LotNumberID'),
  expires_on: instance.text('LotIdentification', 'ExpiryDate'),
  serial: instance.text('SerialID'),
})
