import { db } from '~~/server/database/client'
import { letterOfRequest } from '~~/server/services/purchasing/quotations/ask-suppliers'
import { loadRequest } from '~~/server/services/purchasing/quotations/load-request'
import { IdParam } from '~~/shared/primitives'
import { LetterQuery } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { reminder } = input(LetterQuery, getQuery(event))
  return letterOfRequest(await loadRequest(db, id, actor.today), reminder === 'yes')
})
