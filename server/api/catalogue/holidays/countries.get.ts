import { holidayCountries } from '~~/server/services/catalogue/holidays'
import { CountryQuery } from '~~/shared/catalogue/definitions'

export default route('see', async (event) => {
  const { country } = input(CountryQuery, getQuery(event))
  return holidayCountries(country)
})
