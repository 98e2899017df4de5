import { z } from 'zod'
import { Id, Key, Version } from './primitives'

/** Without picks the order of picking decides; with them exactly those goods are set aside. */
export const Allocate = z.object({ key: Key, version: Version, picks: z.array(z.object({ lineId: Id, balanceId: Id, quantity: z.string().trim().regex(/^\d+(\.\d{1,12})?$/, 'Write a quantity such as 12.5.') })).max(500).default([]) })
export type Allocate = z.infer<typeof Allocate>
export const Ship = z.object({ key: Key, version: Version })
