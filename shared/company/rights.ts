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
  // To order; to approve orders above the sum from which that is wanted.
  'buy',
  'approve',
  'receive',
  // To say what becomes of goods that were inspected.
  'inspect',
  'make',
  'stock',
  'ship',
  'books',
  // To see what things cost and are worth.
  'costs',
  'people',
] as const
export type Right = (typeof RIGHTS)[number]
const GRANTS: Readonly<Record<Role, readonly Right[]>> = {
  owner: RIGHTS,
  planner: ['see', 'catalogue', 'prices', 'demand', 'plan', 'costs'],
  buyer: ['see', 'catalogue', 'plan', 'buy', 'receive', 'books', 'costs'],
  maker: ['see', 'make'],
  stockkeeper: ['see', 'receive', 'stock', 'ship'],
  viewer: ['see'],
}

export const isRole = (text: string): text is Role => (ROLES as readonly string[]).includes(text)
export const may = (role: Role, right: Right): boolean => GRANTS[role].includes(right)
/** Somebody's allowance: their role, rights of their own beyond it, and what a key that they use is limited to. */
export interface Allowance {
  readonly role: Role
  readonly rights?: readonly Right[]
  readonly limitedTo?: readonly Right[]
}
/** Whoever may change what things cost, or plans with it, also sees it. */
const SHOWS_COSTS: readonly Right[] = ['costs', 'catalogue', 'plan', 'buy', 'approve', 'books']

/** Whether somebody may do something. */
export const isAllowed = (person: Allowance, right: Right): boolean =>
  right === 'costs' ? SHOWS_COSTS.some((enough) => isGranted(person, enough)) : isGranted(person, right)

const isGranted = ({ role, rights = [], limitedTo }: Allowance, right: Right): boolean =>
  (may(role, right) || rights.includes(right)) && (limitedTo === undefined || limitedTo.includes(right))
export const rolesWith = (right: Right): readonly Role[] => ROLES.filter((role) => may(role, right))
