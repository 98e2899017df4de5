import { describe, expect, it } from 'vitest'
import type { BoardJob } from '~~/shared/workshop/board'
import { blockHeight, boardColumns, printMinutes } from './use-work-board'

const job = (id: string, dueOn: string, minutes: number): BoardJob => ({ id, dueOn, minutes }) as BoardJob
const day = (iso: string, isWorked = true) => ({ day: iso, isWorked, room: isWorked ? 480 : 0 })
const days = [day('2026-10-05'), day('2026-10-06'), day('2026-10-10', false), day('2026-10-11', false)]

describe('the columns of the workshop’s board', () => {
  it('are what is overdue, then the days from today on; a closed day only where something is due on it', () => {
    const columns = boardColumns(
      { days, jobs: [job('a', '2026-10-02', 30), job('b', '2026-10-06', 60), job('c', '2026-10-11', 15)] },
      '2026-10-06',
    )
    expect(columns.map(({ day: on, minutes, jobs }) => [on, minutes, jobs.map(({ id }) => id)])).toEqual([
      [null, 30, ['a']],
      ['2026-10-06', 60, ['b']],
      ['2026-10-11', 15, ['c']],
    ])
  })
  it('without anything overdue begin with the first day', () => {
    expect(boardColumns({ days, jobs: [] }, '2026-10-05').map((column) => column.day)).toEqual([
      '2026-10-05',
      '2026-10-06',
    ])
  })
})

it('minutes are said as hours where there are any', () => {
  expect([0.4, 45, 59.6, 60, 90, 725].map(printMinutes)).toEqual([
    '0 min',
    '45 min',
    '1 h',
    '1 h',
    '1 h 30 min',
    '12 h 5 min',
  ])
})
it('a block is as high as it is long, and never too low to be read', () => {
  expect([blockHeight(240, 0.5, 44), blockHeight(10, 0.5, 44)]).toEqual([120, 44])
})
