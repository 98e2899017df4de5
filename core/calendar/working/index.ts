export {
  back,
  everyDay,
  forward,
  isWorking,
  makeCalendar,
  spanOf,
  workingDaysBetween,
  type WorkingCalendar,
} from './working-calendar'
