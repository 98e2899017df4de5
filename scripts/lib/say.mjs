const started = performance.now()

/** Tells one step of the work, with the seconds since the beginning. */
export const say = (text) =>
  process.stdout.write(`${((performance.now() - started) / 1000).toFixed(1).padStart(6)} s  ${text}\n`)

/** Ends with one sentence that says what to do, and no stack. */
export class Stop extends Error {
  code = 1
}

/** The same for a file that was given and is wrong. */
export class Refused extends Stop {
  code = 2
}

export function orStop(work) {
  return work.catch((error) => {
    if (!(error instanceof Stop)) {
      throw error
    }
    process.stderr.write(`\n${error.message}\n`)
    process.exit(error.code)
  })
}
