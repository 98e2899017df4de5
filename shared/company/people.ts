import * as z from 'zod'
import { Id, Text, Version } from '../primitives'
import { RIGHTS, ROLES, type Right, type Role } from './rights'
import { CurrencyCode, TimeZone } from './settings'
import { LEAST_PASSWORD } from './words'

const Email = z.email('Give an e-mail address.').max(200, 'This address is too long.')
/** Six digits of a second factor, or a recovery code; spaces and hyphens between are passed over. */
const Code = z
  .string()
  .max(40)
  .transform((text) => text.replaceAll(/[\s-]/g, '').toLowerCase())
export const SignIn = z.object({
  email: Email,
  password: z.string().min(1, 'Give your password.').max(200, 'E-mail address and password do not match.'),
  code: Code.default(''),
})
export type SignIn = z.output<typeof SignIn>

const Password = z
  .string('Give a password.')
  .min(LEAST_PASSWORD, `Use at least ${LEAST_PASSWORD} characters.`)
  .max(200, 'Use at most 200 characters.')
const Role = z.enum(ROLES, 'Choose a role.')
export const FirstOwner = z.object({
  /** Told where Tsumiki was started, so that nobody else on the network begins the company. */
  setUpCode: z.string().trim().max(40).default(''),
  company: Text('the company’s name'),
  name: Text('your name'),
  email: Email,
  password: Password,
  currency: CurrencyCode.prefault('EUR'),
  timeZone: TimeZone.default(null),
})
export const Invitation = z.object({ name: Text('a name'), email: Email, role: Role })
export type Invitation = z.output<typeof Invitation>
export const PersonEdit = z.object({
  version: Version,
  name: Text('a name'),
  role: Role,
  rights: z.array(z.enum(RIGHTS, 'Choose a right.')).max(RIGHTS.length),
  active: z.boolean('Say whether this person may sign in.'),
})
export type PersonEdit = z.output<typeof PersonEdit>

/** What the link of an invitation, or of a forgotten password, holds. */
const Token = z.string().trim().min(1, 'This link is not complete.').max(100)
export const PasswordLinkQuery = z.object({ token: Token })
export const PasswordByLink = z.object({ token: Token, password: Password })
export type PasswordByLink = z.output<typeof PasswordByLink>
export const Forgotten = z.object({ email: Email })
export const PasswordChange = z.object({
  current: z.string().min(1, 'Give your password of now.').max(200),
  password: Password,
})
export type PasswordChange = z.output<typeof PasswordChange>
export const FactorCode = z.object({ code: Code.refine((code) => code !== '', 'Give the six digits.') })
export const OwnPassword = z.object({ password: z.string().min(1, 'Give your password.').max(200) })
export const SessionId = z.object({ id: Id })

export interface Person {
  readonly id: number
  readonly name: string
  readonly email: string
  readonly role: Role
  /** Rights beyond those of the role. */
  readonly rights: readonly Right[]
}
/** Somebody as the owner sees them. */
export interface PersonRow extends Person {
  readonly active: boolean
  readonly version: number
  /** Whether a password was ever chosen. */
  readonly hasPassword: boolean
  readonly hasFactor: boolean
  readonly seenAt: string | null
  /** Until when an open invitation, or a link to a new password, can be used. */
  readonly linkUntil: string | null
}
export interface SessionRow {
  readonly id: number
  readonly begunAt: string
  readonly seenAt: string
  readonly address: string
  readonly browser: string
  readonly isThis: boolean
}
/** Somebody's own sign-in. */
export interface OwnSignIn {
  readonly hasFactor: boolean
  /** Recovery codes that are left. */
  readonly recoveryCodes: number
  /** Whether there is a private address for a calendar program. */
  readonly hasFeed: boolean
  readonly sessions: readonly SessionRow[]
}
