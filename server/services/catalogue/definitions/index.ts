import type { Reader } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { DEFINITION_NAMES, DEFINITION_SCHEMAS, type DefinitionKind, type Stored } from '~~/shared/definitions'
import { billShape } from '../../structure/bill-shape'
import { breakDownShape } from '../../structure/break-down-shape'
import { groupShape } from './group-shape'
import { itemShape } from './item-shape'
import type { Shape } from './shape'
import {
  binShape,
  calendarShape,
  currencyShape,
  customerShape,
  priceListShape,
  routeShape,
  siteShape,
  supplierShape,
  unitShape,
} from './simple-shapes'

const SHAPES: { readonly [K in DefinitionKind]: Shape<K> } = {
  items: itemShape,
  units: unitShape,
  groups: groupShape,
  suppliers: supplierShape,
  customers: customerShape,
  'price-lists': priceListShape,
  sites: siteShape,
  bins: binShape,
  routes: routeShape,
  calendars: calendarShape,
  currencies: currencyShape,
  bills: billShape,
  'break-downs': breakDownShape,
}

export const shapeOf = <K extends DefinitionKind>(kind: K): Shape<K> => SHAPES[kind] as unknown as Shape<K>
export const schemaOf = <K extends DefinitionKind>(kind: K) => DEFINITION_SCHEMAS[kind]

export async function loadDefinition<K extends DefinitionKind>(
  reader: Reader,
  kind: K,
  id: number,
): Promise<Stored<K>> {
  const [entry] = await shapeOf(kind).load(reader, [id])
  if (!entry) {
    throw new Refusal('not-found', `There is no such ${DEFINITION_NAMES[kind]}.`)
  }
  return entry
}

export { saveAll, saveOne, remove, refusalOf, isSame, type Saved, type SaveHow } from './save'
export type { Edit, Fault, Shape } from './shape'
export { freeCode } from './group-shape'
export { loadGroupDefaults } from './inherit'
