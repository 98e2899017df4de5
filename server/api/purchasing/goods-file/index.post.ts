import { heavy } from '~~/server/heavy'
import { asPlain } from '~~/server/heavy/plain-actor'
import { NewImport } from '~~/shared/catalogue/import'

/** Looks through a file of goods received: what it would bring, and every fault. Nothing is received yet. */
export default route('receive', async (event, actor) => {
  const file = input(NewImport.omit({ table: true }), await readBody(event))
  return heavy(event, actor, 'openImport', asPlain(actor), { ...file, table: 'goods-received' })
})
