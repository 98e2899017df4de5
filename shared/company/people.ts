import { z } from 'zod'
import { Text } from '../primitives'
import { CurrencyCode, TimeZone } from './settings'

export const ROLES = ['owner', 'planner', 'buyer', 'maker', 'stockkeeper', 'viewer'] as const
export type Role = (typeof ROLES)[number]

export const RIGHTS = [
  'see',
  'catalogue',
  // To set selling prices; to sell outside the prices that an item allows.
  'prices',
  'undercut',
  'demand',
  'plan',
  'buy',
  'receive',
  'make',
  'stock',
  'ship',
  'books',
  'people',
] as const
export type Right = (typeof RIGHTS)[number]

const GRANTS: Readonly<Record<Role, readonly Right[]>> = {
  owner: RIGHTS,
  planner: ['see', 'catalogue', 'prices', 'demand', 'plan'],
  buyer: ['see', 'catalogue', 'plan', 'buy', 'receive', 'books'],
  maker: ['see', 'make'],
  stockkeeper: ['see', 'receive', 'stock', 'ship'],
  viewer: ['see'],
}

export const isRole = (text: string): text is Role => (ROLES as readonly string[]).includes(text)
export const may = (role: Role, right: Right): boolean => GRANTS[role].includes(right)
export const rolesWith = (right: Right): readonly Role[] => ROLES.filter((role) => may(role, right))

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
