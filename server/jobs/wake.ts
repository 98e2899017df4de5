import type { JobName } from './definitions'

let wake: ((name: JobName) => void) | null = null

/** Who is told that there is work: the workers of this program, where it has some. */
export function onWake(listener: (name: JobName) => void): void {
  wake = listener
}

/** Says that there is work of a kind: workers here look at once, others within half a second. */
export const wakeWorkers = (name: JobName): void => wake?.(name)
