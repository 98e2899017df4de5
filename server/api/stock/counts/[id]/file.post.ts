import { inTransaction } from '~~/server/database/transactions'
import { enterCountFile } from '~~/server/services/stock/count-sheet'
import { IdParam } from '~~/shared/primitives'
import { CountFile } from '~~/shared/stock/counts'

export default route('stock', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { fileName, content } = input(CountFile, await readBody(event))
  return inTransaction((tx) => enterCountFile(tx, actor, id, fileName, Buffer.from(content, 'base64')))
})
