export { shareAmount, shareByLargestRemainder } from './share'
