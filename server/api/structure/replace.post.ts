import { inTransaction } from '~~/server/database/transactions'
import { previewReplace, replaceComponent } from '~~/server/services/structure/replace-component'
import { ReplaceComponent } from '~~/shared/structure/requests'

export default route('catalogue', async (event, actor) => {
  const { dry, ...edit } = input(ReplaceComponent, await readBody(event))
  return dry
    ? { rows: await previewReplace(actor, edit), bills: [], batchId: null }
    : { rows: [], ...(await inTransaction((tx) => replaceComponent(tx, actor, edit))) }
})
