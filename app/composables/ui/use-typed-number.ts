import { isPlainDecimal } from './read-number'
import { ratio, type Ratio } from '~~/core/units/exact'

/**
 * Reads a plain number while it is being typed into a field, by the company's decimal sign; null where there is none
 * yet.
 */
export function useTypedNumber() {
  const session = useSession()
  const typedNumber = (text: string): Ratio | null => {
    const plain = readNumber(text, session.company?.decimalSign)
    return isPlainDecimal(plain) ? ratio(plain) : null
  }
  return { typedNumber }
}
