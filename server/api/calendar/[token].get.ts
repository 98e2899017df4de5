import { calendarOf } from '~~/server/services/running/calendar-feed'
import { FeedToken } from '~~/shared/running/requests'

/** What is due, for a calendar program: by a private address, since such programs cannot sign in. */
export default openRoute(async (event) => {
  const { token } = input(FeedToken, getRouterParams(event))
  const text = await calendarOf(token, linkOrigin(event))
  setResponseHeader(event, 'content-type', 'text/calendar; charset=utf-8')
  return text
})
