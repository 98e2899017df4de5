export { plural } from '~~/core/plural'
