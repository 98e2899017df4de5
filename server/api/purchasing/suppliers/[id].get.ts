import { supplierPage } from '~~/server/services/purchasing/supplier-page'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) =>
  supplierPage(input(IdParam, getRouterParams(event)).id, actor.today),
)
