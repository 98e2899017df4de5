import { isAlive, pause } from './run.mjs'
import { say } from './say.mjs'

/** Seconds before something that ended is started again: longer each time, until it has lived for a while. */
const PAUSES = [1, 2, 5, 10, 30]
const LIVED_MS = 60_000
const LOOK_MS = 500

/**
 * Starts something again whenever it ends, until `isStopping` says so: `pidOf` names its process now, `start` brings it
 * back.
 */
export async function keepAlive({ name, pidOf, start, isStopping }) {
  let failures = 0
  for (;;) {
    const begun = Date.now()
    while (isAlive(pidOf()) && !isStopping()) {
      await pause(LOOK_MS)
    }
    if (isStopping()) {
      return
    }
    failures = Date.now() - begun > LIVED_MS ? 0 : failures
    failures = await startAgain({ name, start, isStopping, failures })
  }
}

async function startAgain({ name, start, isStopping, failures }) {
  for (let failed = failures; ; failed++) {
    const seconds = PAUSES[Math.min(failed, PAUSES.length - 1)]
    say(`${name} has ended; it is started again in ${seconds} s`)
    await pause(seconds * 1000)
    if (isStopping()) {
      return failed
    }
    try {
      await start()
      say(`${name} runs again`)
      return failed + 1
    } catch (error) {
      process.stderr.write(`${error.message}\n`)
    }
  }
}
