import { once } from '~~/server/database/transactions'
import { recordCreditNote } from '~~/server/services/purchasing/credit-notes'
import { IdParam } from '~~/shared/primitives'
import { NewCreditNote } from '~~/shared/purchasing/requests'

export default route('books', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(NewCreditNote, await readBody(event))
  return once(actor, key, (tx) => recordCreditNote(tx, actor, id, edit))
})
