export { checkDigit, readGtin, describeGtinError, type Gtin, type GtinError } from './gtin'
export { readScan, type Scan } from './read-scan'
export { nextCode, isNumberPattern } from './number-pattern'
