import * as z from 'zod'
import { Text } from '../primitives'

export const Subject = Text('a subject', 200)
export const Letter = z
  .string('Write what the letter says.')
  .trim()
  .min(1, 'Write what the letter says.')
  .max(10_000, 'Keep the letter to 10 000 characters.')
/** Addresses, parted by commas. */
export const Address = z
  .string()
  .trim()
  .max(300, 'Keep it to 300 characters.')
  .refine(
    (text) => text === '' || text.split(',').every((address) => z.email().safeParse(address.trim()).success),
    'Write an e-mail address, such as orders@mill.example; several with commas between them.',
  )
