export {
  back,
  everyDay,
  forward,
  isWorking,
  makeCalendar,
  workingDaysBetween,
  type WorkingCalendar,
} from './working-calendar'
