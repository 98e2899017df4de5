/**
 * The places of whole numbers in ascending order; equal ones stay as they came.
 *
 * Shape:  numbers from 0 to 2^32 − 1. Cost: two visits a number (a radix sort by halves of 16 bits).
 * Source: D. E. Knuth, The Art of Computer Programming 3, 5.2.5.
 */
export function sortedPlaces(numbers: readonly number[]): Uint32Array {
  let from = Uint32Array.from({ length: numbers.length }, (_, at) => at)
  for (const shift of [0, 16]) {
    const first = new Uint32Array(2 ** 16 + 1)
    for (const number of numbers) first[((number >>> shift) & 0xffff) + 1]!++
    for (let digit = 0; digit < 2 ** 16; digit++) first[digit + 1]! += first[digit]!
    const to = new Uint32Array(numbers.length)
    for (const at of from) to[first[(numbers[at]! >>> shift) & 0xffff]!++] = at
    from = to
  }
  return from
}
