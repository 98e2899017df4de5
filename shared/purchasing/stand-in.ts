import * as z from 'zod'

const Percent = (most: number) =>
  z
    .int('Write whole per cent.')
    .min(0, 'Write whole per cent, none below nought.')
    .max(most, `Keep it to ${most} per cent.`)
/** How a made-up supplier answers an order: so many days late, so much of it, so much dearer, with freight. */
export const StandInSupplier = z.object({
  lateDays: z.int('Write whole days.').min(0, 'Write whole days.').max(365, 'A year at most.').default(0),
  percent: Percent(200).default(100),
  dearer: Percent(200).default(0),
  freight: z
    .string()
    .trim()
    .regex(/^(\d{1,9}(\.\d{1,2})?)?$/, 'Write an amount such as 12.50.')
    .default(''),
})
export type StandInSupplier = z.output<typeof StandInSupplier>
