import { ratio, type Ratio } from '../exact'

/** What a unit measures; a pack holds what each item says. */
export type Dimension = 'count' | 'mass' | 'length' | 'area' | 'volume' | 'time' | 'pack'

/** A unit of measure, with its exact ratio to the reference unit of its dimension. */
export interface Unit {
  readonly code: string
  readonly name: string
  readonly plural: string
  readonly symbol: string
  readonly dimension: Dimension
  /** Reference units in one of this unit; null for a pack, whose content an item states. */
  readonly ratio: Ratio | null
  /** Decimals to print. */
  readonly decimals: number
  /** Code in UN/ECE Recommendation 20 (packs: Recommendation 21). */
  readonly rec20: string | null
}

type Row = readonly [
  code: string,
  name: string,
  plural: string,
  symbol: string,
  dimension: Dimension,
  ratio: string,
  decimals: number,
  rec20: string,
]

/*
 * Reference units: piece, kg, m, m², m³, s.
 * Source: NIST SP 811 (2008), appendix B.8; every inch-pound factor here is exact by definition.
 * Codes: UN/ECE Recommendation 20, from memory.
 */
const ROWS: readonly Row[] = [
  ['piece', 'piece', 'pieces', 'pc', 'count', '1', 0, 'H87'],
  ['sheet', 'sheet', 'sheets', 'sheet', 'count', '1', 0, 'ST'],
  ['pair', 'pair', 'pairs', 'pair', 'count', '2', 2, 'PR'],
  ['dozen', 'dozen', 'dozens', 'doz', 'count', '12', 2, 'DZN'],
  ['gross', 'gross', 'gross', 'gross', 'count', '144', 3, 'GRO'],
  ['ream', 'ream', 'reams', 'ream', 'count', '500', 3, 'RM'],
  ['mg', 'milligram', 'milligrams', 'mg', 'mass', '0.000001', 0, 'MGM'],
  ['g', 'gram', 'grams', 'g', 'mass', '0.001', 1, 'GRM'],
  ['kg', 'kilogram', 'kilograms', 'kg', 'mass', '1', 3, 'KGM'],
  ['t', 'tonne', 'tonnes', 't', 'mass', '1000', 3, 'TNE'],
  ['oz', 'ounce', 'ounces', 'oz', 'mass', '0.028349523125', 2, 'ONZ'],
  ['lb', 'pound', 'pounds', 'lb', 'mass', '0.45359237', 3, 'LBR'],
  ['mm', 'millimetre', 'millimetres', 'mm', 'length', '0.001', 0, 'MMT'],
  ['cm', 'centimetre', 'centimetres', 'cm', 'length', '0.01', 1, 'CMT'],
  ['m', 'metre', 'metres', 'm', 'length', '1', 2, 'MTR'],
  ['km', 'kilometre', 'kilometres', 'km', 'length', '1000', 3, 'KMT'],
  ['in', 'inch', 'inches', 'in', 'length', '0.0254', 2, 'INH'],
  ['ft', 'foot', 'feet', 'ft', 'length', '0.3048', 2, 'FOT'],
  ['yd', 'yard', 'yards', 'yd', 'length', '0.9144', 2, 'YRD'],
  ['cm2', 'square centimetre', 'square centimetres', 'cm²', 'area', '0.0001', 0, 'CMK'],
  ['m2', 'square metre', 'square metres', 'm²', 'area', '1', 3, 'MTK'],
  ['in2', 'square inch', 'square inches', 'in²', 'area', '0.00064516', 1, 'INK'],
  ['ft2', 'square foot', 'square feet', 'ft²', 'area', '0.09290304', 2, 'FTK'],
  ['yd2', 'square yard', 'square yards', 'yd²', 'area', '0.83612736', 2, 'YDK'],
  ['ml', 'millilitre', 'millilitres', 'ml', 'volume', '0.000001', 0, 'MLT'],
  ['L', 'litre', 'litres', 'L', 'volume', '0.001', 3, 'LTR'],
  ['m3', 'cubic metre', 'cubic metres', 'm³', 'volume', '1', 3, 'MTQ'],
  ['floz', 'US fluid ounce', 'US fluid ounces', 'fl oz', 'volume', '0.0000295735295625', 2, 'OZA'],
  ['gal', 'US gallon', 'US gallons', 'gal', 'volume', '0.003785411784', 3, 'GLL'],
  ['s', 'second', 'seconds', 's', 'time', '1', 0, 'SEC'],
  ['min', 'minute', 'minutes', 'min', 'time', '60', 1, 'MIN'],
  ['h', 'hour', 'hours', 'h', 'time', '3600', 2, 'HUR'],
]

const PACKS: readonly (readonly [code: string, name: string, plural: string, rec21: string])[] = [
  ['box', 'box', 'boxes', 'BX'],
  ['carton', 'carton', 'cartons', 'CT'],
  ['case', 'case', 'cases', 'CS'],
  ['pack', 'pack', 'packs', 'PK'],
  ['bag', 'bag', 'bags', 'BG'],
  ['pallet', 'pallet', 'pallets', 'PX'],
  ['drum', 'drum', 'drums', 'DR'],
  ['tub', 'tub', 'tubs', 'TB'],
  ['roll', 'roll', 'rolls', 'RO'],
  ['reel', 'reel', 'reels', 'RL'],
  ['cone', 'cone', 'cones', 'AJ'],
  ['bottle', 'bottle', 'bottles', 'BO'],
]

/** The units that every company starts with, by code. */
export const standardUnits: ReadonlyMap<string, Unit> = new Map<string, Unit>([
  ...ROWS.map(([code, name, plural, symbol, dimension, factor, decimals, rec20]): [string, Unit] => [
    code,
    { code, name, plural, symbol, dimension, ratio: ratio(factor), decimals, rec20 },
  ]),
  ...PACKS.map(([code, name, plural, rec20]): [string, Unit] => [
    code,
    { code, name, plural, symbol: name, dimension: 'pack', ratio: null, decimals: 3, rec20 },
  ]),
])
