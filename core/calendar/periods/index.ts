export { periodOf, periodsBetween, daysIn, roundOf, STEPS, type Step, type Period } from './periods'
