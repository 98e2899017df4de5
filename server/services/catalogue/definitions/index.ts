import type { Reader } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { DEFINITION_NAMES, type DefinitionKind } from '~~/shared/catalogue/words'
import { DEFINITION_SCHEMAS, type Stored } from '~~/shared/catalogue/definitions'
import { billStore } from '../../structure/bill-store'
import { breakDownStore } from '../../structure/break-down-store'
import { groupStore } from './group-store'
import { itemStore } from './item-store'
import type { DefinitionStore } from './store'
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
} from './simple-stores'

const STORES: { readonly [K in DefinitionKind]: DefinitionStore<K> } = {
  items: itemStore,
  units: unitShape,
  groups: groupStore,
  suppliers: supplierShape,
  customers: customerShape,
  'price-lists': priceListShape,
  sites: siteShape,
  bins: binShape,
  routes: routeShape,
  calendars: calendarShape,
  currencies: currencyShape,
  bills: billStore,
  'break-downs': breakDownStore,
}

export const shapeOf = <K extends DefinitionKind>(kind: K): DefinitionStore<K> =>
  STORES[kind] as unknown as DefinitionStore<K>
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

export { saveAll, saveOne, remove, refusalOf, type Saved, type SaveHow } from './save'
export { isSame } from './is-same'
export type { Edit, Fault, DefinitionStore } from './store'
export { freeCode } from './group-store'
export { loadGroupDefaults } from './inherit'
