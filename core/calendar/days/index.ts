export { toDay, toIso, weekday, isIsoDate, printDay, type DateFormat, type Day } from './day'
