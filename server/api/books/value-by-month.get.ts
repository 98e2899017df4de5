import { valueByMonth } from '~~/server/services/books/value-by-month'

export default route('costs', (_, actor) => valueByMonth(actor.today))
