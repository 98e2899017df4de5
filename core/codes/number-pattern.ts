/** Whether a numbering pattern can be used: one run of `#`, each a digit, with any text around it. */
export const isNumberPattern = (pattern: string): boolean => /^[^#]*#{1,9}[^#]*$/.test(pattern)

/**
 * The next code of a numbering pattern: one above the highest that fits it.
 *
 * Errors: throws on a text that is no pattern; ask `isNumberPattern` first.
 *
 * @example ("GLUE-###", ["GLUE-007", "BOARD-9"]) → "GLUE-008"; ("A#", ["A9"]) → "A10"
 */
export function nextCode(pattern: string, taken: Iterable<string>): string {
  if (!isNumberPattern(pattern)) {
    throw new Error(`Not a numbering pattern: ${pattern}`)
  }
  const width = pattern.replaceAll(/[^#]/g, '').length
  const [before = '', after = ''] = pattern.split(/#+/)
  let highest = 0
  for (const code of taken) {
    const digits = code.slice(before.length, code.length - after.length)
    if (code.startsWith(before) && code.endsWith(after) && /^\d+$/.test(digits)) {
      highest = Math.max(highest, Number(digits))
    }
  }
  return `${before}${String(highest + 1).padStart(width, '0')}${after}`
}
