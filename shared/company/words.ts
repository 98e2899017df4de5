import type { Right } from './rights'

export const LEAST_PASSWORD = 12

/** What each right lets somebody do. */
export const RIGHT_NAMES: Readonly<Record<Right, string>> = {
  see: 'See everything',
  catalogue: 'Change the catalogue',
  prices: 'Set selling prices',
  undercut: 'Sell outside the price limits',
  demand: 'Enter sales orders and forecasts',
  plan: 'Plan and release',
  buy: 'Enter purchase orders',
  approve: 'Approve purchase orders above the set sum',
  receive: 'Receive goods',
  inspect: 'Inspect goods and release them',
  make: 'Build, pack and break down',
  stock: 'Move, count and correct stock',
  ship: 'Allocate and ship',
  books: 'Books and invoices',
  costs: 'See what things cost',
  people: 'People and company settings',
}
