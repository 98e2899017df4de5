import { once } from '~~/server/database/transactions'
import { heavy } from '~~/server/heavy'
import { askSuppliers } from '~~/server/services/purchasing/quotations/ask-suppliers'
import { IdParam } from '~~/shared/primitives'
import { AskSuppliers } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(AskSuppliers, await readBody(event))
  const ids = edit.letters.map(({ supplierId }) => supplierId)
  const made = await heavy(event, actor, 'filesOfRequest', id, ids, actor.today)
  const files = new Map(
    made.map((entry) => [
      entry.supplierId,
      entry.files.map((file) => ({ ...file, content: Buffer.from(file.content) })),
    ]),
  )
  return once(actor, edit.key, (tx) => askSuppliers(tx, actor, id, edit, files))
})
