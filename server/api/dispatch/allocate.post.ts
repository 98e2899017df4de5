import { once, rehearse } from '~~/server/database/transactions'
import { allocateMany } from '~~/server/services/dispatch/allocate-many'
import { AllocateMany } from '~~/shared/demand/requests'

export default route('ship', async (event, actor) => {
  const { key, rule, untilOn, dry } = input(AllocateMany, await readBody(event))
  return dry
    ? rehearse((tx) => allocateMany(tx, actor, rule, untilOn))
    : once(actor, key, (tx) => allocateMany(tx, actor, rule, untilOn))
})
