export { GROUP_ANCESTORS, groupsBelow, MEASURED_ITEM } from './items'
export { isLive, notReversed } from './postings'
export { anyOf, anywhere, beginningWith, escapeLike, onePage } from './search'
