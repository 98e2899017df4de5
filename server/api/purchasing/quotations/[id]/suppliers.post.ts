import { once } from '~~/server/database/transactions'
import { addSuppliers } from '~~/server/services/purchasing/quotations/requests'
import { IdParam } from '~~/shared/primitives'
import { AddSuppliers } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(AddSuppliers, await readBody(event))
  return once(actor, key, (tx) => addSuppliers(tx, actor, id, edit))
})
