import { inTransaction } from '~~/server/services/company/command'
import { saveRecipe } from '~~/server/services/structure/boms'
import { RecipeEdit } from '~~/shared/structure'
import { IdParam } from '~~/shared/primitives'

export default route('catalogue', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(RecipeEdit, await readBody(event))
  return inTransaction(tx => saveRecipe(tx, actor, id, edit))
})
