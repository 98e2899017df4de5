import { printAmount, type NumberFormat } from '../units/quantity'
import type { ShortLine, StockError } from './apply-moves'

/** The words that only the caller knows: codes and units behind the ids. */
export interface StockNames {
  readonly format: NumberFormat
  item(id: string): string
  unit(item: string): string
  bin(id: string): string
  lot(id: string): string
  piece(id: string): string
  /** Where else the item lies free, ready to read; empty where nowhere. */
  elsewhere(line: ShortLine): string
}

/** Says why a posting was refused: each short line, what is there, and where else it lies. */
export function describeStockError(error: StockError, names: StockNames): string {
  switch (error.code) {
    case 'not-above-zero':
      return `Line ${error.line + 1}: the quantity must be greater than zero.`
    case 'short':
      return error.lines
        .map((line) => {
          const lot = line.lot === null ? '' : `, lot ${names.lot(line.lot)}`
          const piece = line.piece === null ? '' : `, piece ${names.piece(line.piece)}`
          const status = line.status === 'available' ? '' : `, ${line.status}`
          const elsewhere = names.elsewhere(line)
          const unit = names.unit(line.item)
          return (
            `${names.item(line.item)}: ${printAmount(line.wanted, 6, names.format)} ${unit} wanted from ${names.bin(line.bin)}${lot}${piece}${status}, but only ${printAmount(line.free, 6, names.format)} ${unit} is free there.` +
            (elsewhere ? ` Also free: ${elsewhere}.` : ' There is none elsewhere.')
          )
        })
        .join(' ')
  }
}
