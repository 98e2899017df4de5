import { find } from '~~/server/services/catalogue/find'
import { FindQuery } from '~~/shared/primitives'

export default route('see', async (event) => find(input(FindQuery, getQuery(event)).text))
