import { ratio, toDecimal, type Ratio } from './units/exact'

/**
 * Digits of the minor unit in which all money is kept: cents of a euro, pence of a pound.
 *
 * Source: ISO 4217, whose list gives 2 for most currencies (from memory); those with others are kept in hundredths all
 *         the same.
 */
export const MINOR_DIGITS = 2
export const MINOR_PER_MAJOR = 10 ** MINOR_DIGITS

/** An amount in major units as minor units, exact. */
export const toMinor = (major: Ratio): Ratio => major.mul(MINOR_PER_MAJOR)

/** An amount in minor units as major units, exact. */
export const toMajor = (minor: Ratio | bigint | string): Ratio =>
  (typeof minor === 'object' ? minor : ratio(minor)).div(MINOR_PER_MAJOR)

/**
 * Minor units as major ones, with the digits of the minor unit.
 *
 * @example 123456n → 1234.56
 */
export const majorText = (minor: Ratio | bigint | string): string => toDecimal(toMajor(minor), MINOR_DIGITS)
