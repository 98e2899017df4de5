export { toDay, toIso, weekday, isIsoDate, printDay, type DateFormat, type Day } from './day'
export { readTypedDay } from './read-day'
