import type { BoardDay, BoardJob, WorkBoard } from '~~/shared/workshop/board'

/** A column of the board: a day with its jobs, or what should have been done before (`day` null). Minutes. */
export interface BoardColumn {
  readonly day: string | null
  readonly isWorked: boolean
  readonly room: number | null
  readonly minutes: number
  readonly jobs: readonly BoardJob[]
}

const minutesIn = (jobs: readonly BoardJob[]): number => jobs.reduce((sum, job) => sum + job.minutes, 0)

/** The board as columns: first what is overdue, then each day that is worked or has jobs all the same. */
export function boardColumns({ days, jobs }: Pick<WorkBoard, 'days' | 'jobs'>, today: string): readonly BoardColumn[] {
  const overdue = jobs.filter((job) => job.dueOn < today && job.dueOn < (days.at(-1)?.day ?? today))
  const columnOf = ({ day, isWorked, room }: BoardDay): BoardColumn => {
    const own = jobs.filter((job) => job.dueOn === day && !overdue.includes(job))
    return { day, isWorked, room, minutes: minutesIn(own), jobs: own }
  }
  const columns = days
    .filter(({ day }) => day >= today)
    .map(columnOf)
    .filter((column) => column.isWorked || column.jobs.length > 0)
  return overdue.length === 0
    ? columns
    : [{ day: null, isWorked: true, room: null, minutes: minutesIn(overdue), jobs: overdue }, ...columns]
}

/** Minutes as people say them. */
export function printMinutes(minutes: number): string {
  const whole = Math.round(minutes)
  if (whole < 60) {
    return `${whole} min`
  }
  const rest = whole % 60
  return `${Math.floor(whole / 60)} h${rest === 0 ? '' : ` ${rest} min`}`
}

/**
 * How high a job of some minutes is drawn where a day has some room: to scale, but never too low to be read. Pixels.
 */
export const blockHeight = (minutes: number, pixelsPerMinute: number, least: number): number =>
  Math.max(least, Math.round(minutes * pixelsPerMinute))
