import * as z from 'zod'
import { findAnswer } from '~~/server/database/transactions'
import { Key } from '~~/shared/primitives'

/** Whether an act was recorded whose answer did not come, and what it answered. */
export default route('see', async (event, actor) => {
  const { key } = input(z.object({ key: Key }), getRouterParams(event))
  const found = await findAnswer(actor, key)
  return { recorded: found !== null, answer: found?.answer ?? null }
})
