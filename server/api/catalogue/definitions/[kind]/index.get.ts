import { listDefinitions, type ListKind } from '~~/server/services/catalogue/references'
import { KindParam } from '~~/shared/catalogue/definitions'

export default route('see', async (event) => {
  const { kind } = input(
    KindParam.refine((p) => !['items', 'bills', 'break-downs'].includes(p.kind), 'There is no such list.'),
    getRouterParams(event),
  )
  return listDefinitions(kind as ListKind)
})
