import { stockValue } from '~~/server/services/books/value'
import { ValueQuery } from '~~/shared/books/requests'

export default route('costs', async (event) => {
  const { by, asOf } = input(ValueQuery, getQuery(event))
  return stockValue(by, asOf)
})
