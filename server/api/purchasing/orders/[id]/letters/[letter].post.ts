import { inTransaction } from '~~/server/database/transactions'
import { sendLetterAgain } from '~~/server/services/purchasing/outgoing'
import { LetterParams } from '~~/shared/purchasing/requests'

export default route('buy', async (event) => {
  const { id, letter } = input(LetterParams, getRouterParams(event))
  return inTransaction((tx) => sendLetterAgain(tx, id, letter))
})
