/** One kind of background work. */
export interface JobDefinition {
  /** What a person reads. */
  readonly words: string
  /** Minutes and hours at which it is begun by itself, as cron writes them; null where somebody asks for it. */
  readonly schedule: string | null
  /** Whether it is also done when a worker starts: what was due while nothing ran is not waited for. */
  readonly atStart?: boolean
  /** At most one of a key waits and one is worked on; what is asked for meanwhile is the one that waits. */
  readonly oneAtATime: boolean
  /** Times that it is tried again, and seconds before the first of them, which double each time where it backs off. */
  readonly retryLimit: number
  readonly retryDelay: number
  readonly retryBackoff: boolean
  /** Seconds after which it is cut off. */
  readonly longest: number
}

const HOUR = 60 * 60
const CHECK = { atStart: true, oneAtATime: true, retryLimit: 2, retryDelay: 60, retryBackoff: true, longest: 1800 }

/** Everything that is done in the background, by the name of its queue. */
export const JOBS = {
  plan: {
    words: 'Compute a plan',
    schedule: null,
    oneAtATime: true,
    retryLimit: 5,
    retryDelay: 0,
    retryBackoff: false,
    longest: 2 * HOUR,
  },
  'low-stock': { words: 'Look for what runs low', schedule: '* * * * *', ...CHECK },
  'month-ends': { words: 'Keep the stock of a month’s end', schedule: '* * * * *', ...CHECK },
  backup: { words: 'Back up', schedule: '*/10 * * * *', ...CHECK, retryDelay: 600, longest: 6 * HOUR },
  letter: {
    words: 'Send a letter',
    schedule: null,
    oneAtATime: true,
    retryLimit: 12,
    retryDelay: 30,
    retryBackoff: true,
    longest: 120,
  },
  'hook-calls': {
    words: 'Tell another program',
    schedule: null,
    oneAtATime: true,
    retryLimit: 14,
    retryDelay: 2,
    retryBackoff: true,
    longest: 600,
  },
  'ledger-check': { words: 'Check the ledger', schedule: '0 4 * * 0', ...CHECK, atStart: false, longest: 2 * HOUR },
  outgoing: { words: 'Look for what was left', schedule: '* * * * *', ...CHECK },
  clearing: { words: 'Clear away what is over', schedule: '17 * * * *', ...CHECK },
} as const satisfies Record<string, JobDefinition>

export type JobName = keyof typeof JOBS
export const JOB_NAMES = Object.keys(JOBS) as JobName[]

/** What each kind of work is told. */
export interface JobData {
  plan: { readonly planId: number; readonly userId: number; readonly today: string }
  'low-stock': null
  'month-ends': null
  backup: null
  letter: { readonly mailId: number }
  'hook-calls': { readonly hookId: number; readonly about: string }
  'ledger-check': null
  outgoing: null
  clearing: null
}

/** What goes along with work while it is done: it says how far it is, and is told to stop. */
export interface Progress {
  readonly signal: AbortSignal
  /** Whether it is not tried again after this. */
  readonly isLastTry: boolean
  onPhase(phase: string, percent: number): void
}
