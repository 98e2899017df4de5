import { readCalendarFile } from '~~/server/services/catalogue/holidays'
import { CalendarFile } from '~~/shared/catalogue/definitions'

export default route('catalogue', async (event, actor) => {
  const { text } = input(CalendarFile, await readBody(event))
  return readCalendarFile(text, actor.today)
})
