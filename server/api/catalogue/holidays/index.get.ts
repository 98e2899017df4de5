import { publicHolidays } from '~~/server/services/catalogue/holidays'
import { HolidayQuery } from '~~/shared/catalogue/definitions'

export default route('see', async (event) => {
  const { country, state, year } = input(HolidayQuery, getQuery(event))
  return publicHolidays(country, state, year)
})
