import { valueByMonth } from '~~/server/services/books/value-by-month'

export default route('see', (_, actor) => valueByMonth(actor.today))
