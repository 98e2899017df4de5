const ZERO = 48
const NINE = 57
const isDigit = (code: number): boolean => code >= ZERO && code <= NINE

/**
 * Orders ids as a person counts: a run of digits is a number, so `999` comes before `1000` and `sales:9` before
 * `sales:10`; all else by its characters. Zero only for the same text.
 */
export function compareIds(a: string, b: string): number {
  const shorter = Math.min(a.length, b.length)
  let differs = 0
  while (differs < shorter && a.charCodeAt(differs) === b.charCodeAt(differs)) {
    differs++
  }
  if (differs === a.length && differs === b.length) {
    return 0
  }
  const [ofA, ofB] = [digitsFrom(a, differs), digitsFrom(b, differs)]
  const isWithinNumber = (ofA > 0 && ofB > 0) || (differs > 0 && isDigit(a.charCodeAt(differs - 1)))
  // Of two numbers that begin alike the one with more digits is the greater.
  if (isWithinNumber && ofA !== ofB) {
    return ofA - ofB
  }
  return differs === shorter ? a.length - b.length : a.charCodeAt(differs) - b.charCodeAt(differs)
}

function digitsFrom(text: string, first: number): number {
  let end = first
  while (end < text.length && isDigit(text.charCodeAt(end))) {
    end++
  }
  return end - first
}
