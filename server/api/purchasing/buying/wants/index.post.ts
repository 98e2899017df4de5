import { once } from '~~/server/database/transactions'
import { noteWant } from '~~/server/services/purchasing/buying/wants'
import { isAllowed, type Right } from '~~/shared/company/rights'
import { NewWant } from '~~/shared/purchasing/requests'

/** Whoever sells, makes, keeps stock or plans may say what is wanted. */
const ENOUGH: readonly Right[] = ['demand', 'make', 'stock', 'plan']

export default route('see', async (event, actor) => {
  requireAllowed(actor, ENOUGH.find((right) => isAllowed(actor, right)) ?? 'buy')
  const { key, ...edit } = input(NewWant, await readBody(event))
  return once(actor, key, (tx) => noteWant(tx, actor, edit))
})
