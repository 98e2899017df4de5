import * as z from 'zod'
import { Text } from '../primitives'
import { ROLES, type Role } from './rights'
import { CurrencyCode, TimeZone } from './settings'

export const SignIn = z.object({
  email: z.email('Give an e-mail address.'),
  password: z.string().min(1, 'Give your password.'),
})

const Password = z.string('Give a password.').min(10, 'Use at least 10 characters.').max(200)
export const FirstOwner = z.object({
  company: Text('the company’s name'),
  name: Text('your name'),
  email: z.email('Give an e-mail address.'),
  password: Password,
  currency: CurrencyCode.prefault('EUR'),
  timeZone: TimeZone.default(null),
})
export const NewPerson = z.object({
  name: Text('a name'),
  email: z.email('Give an e-mail address.'),
  password: Password,
  role: z.enum(ROLES, 'Choose a role.'),
})

export interface Person {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly role: Role
}
