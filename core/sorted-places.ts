/**
 * The places of whole numbers in ascending order; equal ones stay as they came.
 *
 * Shape:  numbers from 0 to 2^32 − 1. Cost: two visits a number (a radix sort by halves of 16 bits).
 * Source: D. E. Knuth, The Art of Computer Programming 3, 5.2.5.
 */
export function sortedPlaces(numbers: readonly number[]): Uint32Array {
  const keys = new Uint32Array(numbers)
  let from = new Uint32Array(keys.length)
  let target = new Uint32Array(keys.length)
  for (let index = 0; index < from.length; index++) {
    from[index] = index
  }
  for (const shift of [0, 16]) {
    const first = new Uint32Array(2 ** 16 + 1)
    for (let index = 0; index < keys.length; index++) {
      first[((keys[index]! >>> shift) & 0xffff) + 1]!++
    }
    for (let digit = 0; digit < 2 ** 16; digit++) {
      first[digit + 1]! += first[digit]!
    }
    for (let i = 0; i < from.length; i++) {
      const index = from[i]!
      target[first[(keys[index]! >>> shift) & 0xffff]!++] = index
    }
    ;[from, target] = [target, from]
  }
  return from
}
