import { changeMethod } from '~~/server/services/books/costing'
import { rehearse } from '~~/server/services/company/command'
import { ChangeMethod } from '~~/shared/books'

export default route('books', async (event, actor) => {
  const edit = input(ChangeMethod, await readBody(event))
  return rehearse((tx) => changeMethod(tx, actor, edit))
})
