export { shareAmount, shareByLargestRemainder } from './share'
export { shareOf } from './share-of'
