import { accounts } from '~~/server/services/books/value'
import { ValueQuery } from '~~/shared/books/requests'

export default route('costs', async (event) => {
  const { asOf } = input(ValueQuery, getQuery(event))
  return accounts(asOf)
})
