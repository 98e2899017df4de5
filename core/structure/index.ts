export { compileStructure, findLoop, type Structure, type StructureLine } from './compile'
export { explode, type ExplodedRow } from './explode'
export { whereUsed, type UseRow } from './where-used'
export { needOf } from './need-of'
