import * as z from 'zod'
import { Day, OptionalDay, OptionalId, Version } from '../primitives'
import type { ServedLater } from '../stock/served-later'

/** A job by its kind and number in the database: `build:12`, `break-down:3`. */
export const JobParam = z.object({
  job: z
    .string()
    .regex(/^(build|break-down):\d{1,9}$/, 'There is no such job.')
    .transform((text) => {
      const [kind, id] = text.split(':') as ['build' | 'break-down', string]
      return { kind, id: Number(id) }
    }),
})
export type Job = z.output<typeof JobParam>['job']

export const WorkBoardQuery = z.object({ site: OptionalId, from: OptionalDay.default(null) })
export const JobDayQuery = z.object({ day: Day })
export const JobDay = z.object({ version: Version, day: Day })

/** One job on the workshop's board. Quantities in the stock unit, days in ISO 8601. */
export interface BoardJob {
  readonly id: string
  readonly kind: Job['kind']
  readonly link: string
  readonly number: string
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly left: string
  readonly symbol: string
  readonly dueOn: string
  readonly releaseOn: string | null
  readonly status: string
  readonly forWhat: string | null
  /** Minutes that what is left takes by its bill of materials; 0 where the bill names none. */
  readonly minutes: number
  readonly version: number
}
export interface BoardDay {
  readonly day: string
  readonly isWorked: boolean
  /** Minutes of work that the site's calendar has for the day; null where nobody has said. */
  readonly room: number | null
}
/** Two weeks of a site's jobs, each by the day on which it is to be done. */
export interface WorkBoard {
  readonly site: { readonly id: number; readonly name: string } | null
  readonly sites: readonly { readonly id: number; readonly name: string }[]
  readonly from: string
  readonly days: readonly BoardDay[]
  readonly jobs: readonly BoardJob[]
  /** How many open jobs are due after the days that are shown. */
  readonly later: number
}
/** What it does to give a job another day. */
export interface JobMove {
  readonly dueOn: string
  readonly releaseOn: string | null
  /** What is served later than before, or not at all (`coveredOn` null). */
  readonly late: readonly (ServedLater & {
    /** A component that the job itself needs, and not something that waits for it. */
    readonly isOwnNeed: boolean
  })[]
}
