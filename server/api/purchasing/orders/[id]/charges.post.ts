import { inTransaction } from '~~/server/database/transactions'
import { tryCharges } from '~~/server/services/purchasing/try-charges'
import { IdParam } from '~~/shared/primitives'
import { TriedInvoice } from '~~/shared/purchasing/requests'

/** What charges would come to for each of the goods; nothing is recorded. */
export default route('books', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(TriedInvoice, await readBody(event))
  return inTransaction((tx) => tryCharges(tx, id, edit))
})
