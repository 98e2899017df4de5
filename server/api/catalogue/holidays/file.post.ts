import { daysOfCalendarFile } from '~~/server/services/catalogue/calendar-file'
import { CalendarFile } from '~~/shared/catalogue/definitions'

export default route('catalogue', async (event, actor) => {
  const { text } = input(CalendarFile, await readBody(event))
  return daysOfCalendarFile(text, actor.today)
})
