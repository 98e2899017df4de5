import { toText } from '../exact'
import type { ParseError } from '../quantity'

/** Says in a sentence why a quantity or a relation between units was not accepted, and what to do. */
export function describeUnitError(error: ParseError, nameOf: (code: string) => string = (code) => code): string {
  switch (error.code) {
    case 'empty':
      return 'Type a quantity.'
    case 'unreadable':
      return `“${error.text}” is no number. Write for example 2.5, 1/3, 3*12 or 2 carton + 5.`
    case 'divide-by-zero':
      return 'A quantity cannot be divided by zero.'
    case 'not-above-zero':
      return `${error.text} is not above zero. Type a quantity greater than zero.`
    case 'unknown-word':
      return `“${error.word}” is not a unit of this item.`
    case 'other-sign':
      return `“${error.text}” is written with a decimal ${error.sign === '.' ? 'comma' : 'point'}; here it is a ${error.sign === '.' ? 'point' : 'comma'}: ${error.meant}.`
    case 'unknown-unit':
      return `There is no unit “${error.unit}”.`
    case 'no-path':
      return `Nothing says how ${nameOf(error.from)} relates to ${nameOf(error.to)}. Add a pack or a bridge between them on the item.`
    case 'not-positive':
      return `The content of one ${nameOf(error.unit)} in ${nameOf(error.of)} must be greater than zero.`
    case 'contradiction':
      return `1 ${nameOf(error.unit)} = ${toText(error.stated)} ${nameOf(error.of)} contradicts the path ${error.path.map(nameOf).join(' → ')}, by which it is ${toText(error.existing)} ${nameOf(error.of)}.`
  }
}
