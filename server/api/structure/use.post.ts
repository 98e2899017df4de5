import { inTransaction } from '~~/server/services/company/command'
import { useDrafts } from '~~/server/services/structure/bills'
import { UseDrafts } from '~~/shared/structure'

export default route('catalogue', async (event, actor) => {
  const { bills, fromOn } = input(UseDrafts, await readBody(event))
  return inTransaction((tx) => useDrafts(tx, actor, bills, fromOn))
})
