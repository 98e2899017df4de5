import { once } from '~~/server/database/transactions'
import { createBreakDown } from '~~/server/services/workshop/break-downs'
import { NewBreakDown } from '~~/shared/workshop/requests'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(NewBreakDown, await readBody(event))
  return once(actor, key, (tx) => createBreakDown(tx, actor, { ...edit, times: String(edit.times) }))
})
