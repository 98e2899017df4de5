import { stockValue } from '~~/server/services/books/value'

export default route('see', async () => stockValue())
