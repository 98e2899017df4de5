import { journal } from '~~/server/services/books/value'
import { JournalQuery } from '~~/shared/books/requests'

export default route('costs', async (event) => {
  const query = input(JournalQuery, getQuery(event))
  return journal(60, query)
})
