import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { BatchParam } from '~~/shared/catalogue/import'

export default route('catalogue', async (event, actor) => {
  const { id } = input(BatchParam, getRouterParams(event))
  return heavy(event, actor, 'takeBack', asPlain(actor), id)
})
