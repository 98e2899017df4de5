export { writePlan, plan } from './plan'
