export { toDay, toIso, isIsoDate, printDay, weekday, type Day } from './day'
export {
  everyDay,
  makeCalendar,
  isWorking,
  back,
  forward,
  workingDaysBetween,
  type WorkingCalendar,
} from './working-calendar'
