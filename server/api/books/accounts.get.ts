import { accounts } from '~~/server/services/books/value'

export default route('see', async () => accounts())
