import { isIsoDate } from '~~/core/calendar/days'
import { CellFault } from './cell-fault'
import type { Names } from './names'

export interface Reading {
  readonly names: Names
  readonly decimalSign: '.' | ','
}

/** One column of a table: which field of the definition it fills, and how text becomes a value and back. */
export interface Column {
  readonly name: string
  readonly field: string
  /** What an empty cell sets; `undefined` leaves the field out (it may then be inherited, or is missing). */
  readonly empty: unknown
  readonly needed: boolean
  /** Other headings under which it is known. */
  readonly also: readonly string[]
  /** In a table of a list: it fills the definition, not the entry. */
  readonly ofHead?: boolean
  read(text: string, reading: Reading): unknown
  write(value: unknown, names: Names): string
}

type How = Partial<Pick<Column, 'field' | 'empty' | 'needed' | 'also'>>
const camel = (name: string): string => name.replace(/_(\w)/g, (_, letter: string) => letter.toUpperCase())
const column = (
  name: string,
  how: How,
  read: Column['read'],
  write: Column['write'] = (value) => (value === null || value === undefined ? '' : String(value)),
): Column => ({
  name,
  field: how.field ?? camel(name),
  empty: 'empty' in how ? how.empty : '',
  needed: how.needed ?? false,
  also: how.also ?? [],
  read,
  write,
})

export const text = (name: string, how: How = {}): Column => column(name, how, (value) => value)
/** One of a few words; what is no such word is told by the definition's own check. */
export const word = (name: string, how: How = {}): Column =>
  column(name, { empty: undefined, ...how }, (value) => value.toLowerCase())

/** A number as a spreadsheet of the company's country writes it, kept as exact text. */
export const number = (name: string, how: How = {}): Column =>
  column(name, { empty: null, ...how }, (value, { decimalSign }) => plainNumber(value, decimalSign))
export function plainNumber(value: string, decimalSign: '.' | ','): string {
  const compact = value.replace(/[  '’]/g, '')
  if (decimalSign === ',' && /^\d{1,3}(\.\d{3})*(,\d+)?$|^\d+,\d+$/.test(compact)) {
    return compact.replaceAll('.', '').replace(',', '.')
  }
  return /^\d{1,3}(,\d{3})+(\.\d+)?$/.test(compact) ? compact.replaceAll(',', '') : compact
}

const YES = ['yes', 'y', 'true', '1', 'x', 'ja', 'oui']
const NO = ['no', 'n', 'false', '0', 'nein', 'non']
export const yesNo = (name: string, how: How = {}): Column =>
  column(
    name,
    { empty: false, ...how },
    (value) => {
      if (YES.includes(value.toLowerCase())) {
        return true
      }
      if (NO.includes(value.toLowerCase())) {
        return false
      }
      throw new CellFault(`“${value}” is neither yes nor no.`)
    },
    (value) => {
      if (value === true) {
        return 'yes'
      }
      if (value === false) {
        return 'no'
      }
      return ''
    },
  )

export const day = (name: string, how: How = {}): Column =>
  column(name, { empty: null, ...how }, (value) => readDay(value))
/** A day as year-month-day, or as day.month.year. */
export function readDay(value: string): string {
  const parts = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(value)
  const iso = parts ? `${parts[3]}-${parts[2]!.padStart(2, '0')}-${parts[1]!.padStart(2, '0')}` : value.slice(0, 10)
  if (!isIsoDate(iso)) {
    throw new CellFault(`“${value}” is no date. Write it as year-month-day, for example 2026-10-05.`)
  }
  return iso
}

/** A thing that is named by its code. */
export const named = (name: string, kind: Parameters<Names['idOf']>[0], how: How = {}): Column =>
  column(
    name,
    { empty: null, ...how },
    (value, { names }) => {
      const id = names.idOf(kind, value)
      if (id === undefined) {
        throw new CellFault(`There is no ${names.wordFor(kind)} “${value}”.`)
      }
      return id
    },
    (value, names) => (typeof value === 'number' ? names.codeOf(kind, value) : ''),
  )

/** A unit by its code, symbol, name or plural. */
export const unit = (name: string, how: How = {}): Column =>
  column(name, { empty: undefined, ...how }, (value, { names }) => {
    const code = names.unitOf(value)
    if (code === undefined) {
      throw new CellFault(`There is no unit “${value}”. Add it to the units first.`)
    }
    return code
  })

const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
export const week = (name: string): Column =>
  column(
    name,
    { empty: [true, true, true, true, true, false, false] },
    (value) => {
      const days = value
        .split(/[\s,;]+/)
        .filter(Boolean)
        .map((entry) => entry.slice(0, 3).toLowerCase())
      const wrong = days.find((day) => !WEEK.some((known) => known.toLowerCase() === day))
      if (wrong) {
        throw new CellFault(`“${wrong}” is no day of the week. Write for example Mon Tue Wed Thu Fri.`)
      }
      return WEEK.map((known) => days.includes(known.toLowerCase()))
    },
    (value) => WEEK.filter((_, index) => (value as boolean[])[index]).join(' '),
  )
