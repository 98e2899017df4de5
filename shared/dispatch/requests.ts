import * as z from 'zod'
import { Id, Key, Version } from '../primitives'

/** Without picks the order of picking decides; with them exactly those goods are set aside. */
export const Allocate = z.object({
  key: Key,
  version: Version,
  picks: z
    .array(
      z.object({
        lineId: Id,
        balanceId: Id,
        quantity: z
          .string()
          .trim()
          .regex(/^\d+(\.\d{1,12})?$/, 'Write a quantity such as 12.5.'),
      }),
    )
    .max(500)
    .default([]),
})
export type Allocate = z.infer<typeof Allocate>
export const Ship = z.object({ key: Key, version: Version })

/** Kits that are packed at the table when their order is shipped, and where their parts lie. */
export interface PackingJob {
  readonly buildId: number
  readonly number: string
  readonly lineId: number
  readonly code: string
  readonly quantity: string
  readonly symbol: string
  readonly parts: readonly {
    readonly bin: string
    readonly code: string
    readonly lot: string | null
    readonly piece: string | null
    readonly quantity: string
    readonly symbol: string
  }[]
}
