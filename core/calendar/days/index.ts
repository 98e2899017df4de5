export { toDay, toIso, weekday, isIsoDate, printDay, type Day } from './day'
