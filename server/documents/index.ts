export { lockAsSeen, lockDocument, requireStatus, saveDocument, type DocumentOf } from './document'
export { noteChange, requireVersion } from './history'
export { nextNumber } from './number'
