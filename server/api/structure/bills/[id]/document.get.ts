import { heavy } from '~~/server/heavy'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { name, bytes } = await heavy(
    event,
    actor,
    'billDocument',
    input(IdParam, getRouterParams(event)).id,
    actor.today,
  )
  return asFile(event, name, 'pdf', bytes)
})
