import { once } from '~~/server/services/company/command'
import { changeStandard } from '~~/server/services/books/costing'
import { ApplyStandard } from '~~/shared/books'

export default route('books', async (event, actor) => {
  const { key, ...edit } = input(ApplyStandard, await readBody(event))
  return once(actor, key, (tx) => changeStandard(tx, actor, edit))
})
