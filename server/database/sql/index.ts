export { GROUP_ANCESTORS, groupsBelow, MEASURED_ITEM } from './items'
export { isLive, notReversed } from './postings'
export { anyOf, anywhere, beginningWith, onePage } from './search'
export { freeQuantity, PICKABLE } from './stock'
