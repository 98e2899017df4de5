interface Timed {
  readonly name: string
  readonly ms: number
}

const MANY = 10

/** Names the slowest tests of a run, a line each, so that `npm test` can name the slowest of all runs at its end. */
export function printSlowest(tests: readonly Timed[]): void {
  const slowest = [...tests].sort((a, b) => b.ms - a.ms).slice(0, MANY)
  for (const { name, ms } of slowest.filter((test) => test.ms >= 1000)) {
    process.stdout.write(`\nslow: ${(ms / 1000).toFixed(1)} s  ${name}`)
  }
}
