import { checkOrder } from '~~/server/services/purchasing/check-order'
import { PurchaseDraft } from '~~/shared/purchasing/requests'

export default route('buy', async (event, actor) =>
  checkOrder(input(PurchaseDraft, await readBody(event)), actor.today),
)
