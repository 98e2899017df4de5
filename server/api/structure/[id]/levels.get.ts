import { db } from '~~/server/database/client'
import { indentedFile } from '~~/server/services/structure/files'
import { IdParam } from '~~/shared/primitives'
import { ExportQuery } from '~~/shared/catalogue/import'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { format } = input(ExportQuery, getQuery(event))
  const { name, content } = await indentedFile(db, id, actor.today, format)
  return asFile(event, name, format, content)
})
