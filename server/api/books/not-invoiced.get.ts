import { notInvoiced } from '~~/server/services/books/not-invoiced'
import { AsOfQuery } from '~~/shared/books/requests'

export default route('costs', async (event) => {
  const { asOf } = input(AsOfQuery, getQuery(event))
  return notInvoiced(asOf)
})
