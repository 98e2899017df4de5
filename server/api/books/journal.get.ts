import { journal } from '~~/server/services/books/value'
import { JournalQuery } from '~~/shared/books'

export default route('see', async event => journal(200, input(JournalQuery, getQuery(event)).before))
