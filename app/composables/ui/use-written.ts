/**
 * A typed quantity as it reads on a button: with its unit where it is a plain number, as it was typed where it names
 * its own.
 */
export function useWritten() {
  const references = useReferences()
  const isPlainNumber = (text: string): boolean => /^[\d.,\s/*+()-]+$/.test(text.trim())
  const written = (text: string, unit: string): string => {
    const typed = text.trim()
    if (typed === '') {
      return `… ${references.symbol(unit)}`
    }
    if (isPlainNumber(typed)) {
      return `${typed} ${references.symbol(unit)}`
    }
    return typed
  }
  return { written, isPlainNumber }
}
