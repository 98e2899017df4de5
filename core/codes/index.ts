export { readGtin, describeGtinError } from './gtin'
export { nextCode, isNumberPattern } from './number-pattern'
export { readScan } from './read-scan'
export { scanInField } from './scan-in-field'
