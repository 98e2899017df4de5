import * as z from 'zod'
import { RIGHTS } from '../company/rights'
import { Id, OptionalDay, Text, Version } from '../primitives'
import { HOOK_EVENTS } from './words'

export const NewKey = z.object({
  name: Text('a name, such as “Web shop”', 80),
  rights: z.array(z.enum(RIGHTS, 'Choose a right.')).min(1, 'Choose at least one right.').max(RIGHTS.length),
  expiresOn: OptionalDay.default(null),
})
export type NewKey = z.output<typeof NewKey>

const HookFields = {
  name: Text('a name, such as “Web shop”', 80),
  url: z
    .string('Give an address.')
    .trim()
    .max(500, 'Keep the address to 500 characters.')
    .refine((text) => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol), {
      error: 'Give a whole address, such as https://shop.example/tsumiki.',
    }),
  events: z.array(z.enum(HOOK_EVENTS, 'Choose what is told.')).min(1, 'Choose what is told.'),
}
export const NewHook = z.object(HookFields)
export type NewHook = z.output<typeof NewHook>
export const HookEdit = z.object({ ...HookFields, active: z.boolean('Say whether it is told.'), version: Version })
export type HookEdit = z.output<typeof HookEdit>

export const WorkId = z.object({ id: z.uuid('There is no such work.') })
export const CallParams = z.object({ id: Id, call: Id })

export const FeedToken = z.object({ token: z.string().min(1).max(100) })
