import { asc, eq, sql } from 'drizzle-orm'
import type { PgTable } from 'drizzle-orm/pg-core'
import { groupBy } from '~~/core/group-by'
import { parts, ratio, toText } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import {
  calendars,
  closedDays,
  currencies,
  customers,
  exchangeRates,
  places,
  priceLists,
  routes,
  sites,
  suppliers,
  units,
} from '~~/server/database/schema'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import type { DefinitionKind } from '~~/shared/catalogue/words'
import type { Edit, Fault, Row, DefinitionStore } from './store'
import { usesOf } from './uses'

const columnName = (field: string): string => field.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)
export const columnsOf = (fields: object): Row =>
  Object.fromEntries(Object.entries(fields).map(([field, value]) => [columnName(field), value]))
const where = (table: { id: { getSQL(): ReturnType<typeof sql> } }, ids: readonly number[] | 'all') =>
  ids === 'all' ? undefined : anyOf(sql`${table.id}`, ids)

/** A kind whose definition is one row of its table and nothing else. */
function rowShape<K extends DefinitionKind>(
  kind: K,
  name: string,
  table: PgTable & { id: never },
  check: DefinitionStore<K>['check'] = async () => [],
  fixed: Row = {},
): DefinitionStore<K> {
  return {
    kind,
    table: name,
    key: 'code',
    lists: {},
    check,
    load: async (reader, ids) =>
      (await reader
        .select()
        .from(table as PgTable)
        .where(where(table as never, ids))
        .orderBy(asc((table as { id: never }).id))) as unknown as Stored<K>[],
    rowsOf: (definition) => ({ own: { ...columnsOf(definition as object), ...fixed }, lists: {} }),
  }
}

/** A fault of each edit that retires something which is still needed. */
async function stillNeeded<K extends DefinitionKind>(
  tx: Tx,
  edits: readonly Edit<K>[],
  query: (id: number) => ReturnType<typeof sql>,
): Promise<Fault[]> {
  const faults: Fault[] = []
  for (const [edit, { id, definition }] of edits.entries()) {
    if (id === null || !(definition as { retired?: boolean }).retired) {
      continue
    }
    const [need] = await rows<{ summary: string | null }>(tx, query(id))
    if (need?.summary) {
      faults.push({ edit, field: 'retired', detail: need.summary })
    }
  }
  return faults
}

export const supplierShape = rowShape('suppliers', 'suppliers', suppliers as never, (tx, edits) =>
  stillNeeded(
    tx,
    edits,
    (id) =>
      sql`
        select 'It has ' || count(*) || ' open purchase orders. Receive them or close them short first.' as summary
        from purchase_orders
        where supplier_id = ${id} and status = 'open'
        having count(*) > 0`,
  ),
)
export const customerShape = rowShape('customers', 'customers', customers as never, (tx, edits) =>
  stillNeeded(
    tx,
    edits,
    (id) =>
      sql`
        select 'It has ' || count(*) || ' open sales orders. Ship or end them first.' as summary
        from sales_orders
        where customer_id = ${id} and status = 'open'
        having count(*) > 0`,
  ),
)
export const priceListShape = rowShape('price-lists', 'price_lists', priceLists as never)
export const siteShape = rowShape('sites', 'sites', sites as never, (tx, edits) =>
  stillNeeded(
    tx,
    edits,
    (id) =>
      sql`
        select 'Bin ' || p.code || ' of it is in use. Retire its bins first.' as summary
        from places p
        where p.site_id = ${id} and not p.retired
        limit 1`,
  ),
)
const bins = rowShape(
  'bins',
  'places',
  places as never,
  (tx, edits) =>
    stillNeeded(
      tx,
      edits,
      (id) =>
        sql`
          select i.code || ' lies here still. Move what is in the bin first.' as summary
          from balances b
          join items i on i.id = b.item_id
          where b.place_id = ${id} and b.on_hand > 0
          limit 1`,
    ),
  { kind: 'bin' },
)
export const binShape: DefinitionStore<'bins'> = {
  ...bins,
  load: async (reader, ids) =>
    (
      await reader
        .select()
        .from(places)
        .where(ids === 'all' ? eq(places.kind, 'bin') : where(places as never, ids))
        .orderBy(asc(places.pickOrder), asc(places.code))
    )
      .filter((place) => place.kind === 'bin')
      .map(({ kind, ...bin }) => {
        void kind
        return bin as Stored<'bins'>
      }),
}

/** Two sites have one usual way in each direction. */
export const routeShape = rowShape('routes', 'routes', routes as never, async (tx, edits) => {
  const faults: Fault[] = []
  for (const [edit, { id, definition }] of edits.entries()) {
    const [sameRoute] = await rows<{ name: string }>(
      tx,
      sql`
        select name
        from routes
        where from_site_id = ${definition.fromSiteId}
          and to_site_id = ${definition.toSiteId}
          and id is distinct from ${id}::int`,
    )
    if (sameRoute) {
      faults.push({ edit, field: 'toSiteId', detail: `“${sameRoute.name}” is this way already.` })
    }
  }
  return faults
})

export const calendarShape: DefinitionStore<'calendars'> = {
  kind: 'calendars',
  table: 'calendars',
  key: 'name',
  lists: { closed_days: 'calendar_id' },
  check: async () => [],
  async load(reader, ids) {
    const days = groupBy(
      await reader
        .select()
        .from(closedDays)
        .where(ids === 'all' ? undefined : anyOf(sql`${closedDays.calendarId}`, ids))
        .orderBy(asc(closedDays.day)),
      (d) => d.calendarId,
    )
    return (
      await reader
        .select()
        .from(calendars)
        .where(where(calendars as never, ids))
        .orderBy(asc(calendars.name))
    ).map((c) => ({ ...c, closed: (days.get(c.id) ?? []).map(({ day, note }) => ({ day, note })) }))
  },
  rowsOf: ({ closed, ...own }) => ({ own: columnsOf(own), lists: { closed_days: closed } }),
}

export const currencyShape: DefinitionStore<'currencies'> = {
  kind: 'currencies',
  table: 'currencies',
  key: 'code',
  lists: { exchange_rates: 'currency_id' },
  async load(reader, ids) {
    const rates = groupBy(
      await reader
        .select()
        .from(exchangeRates)
        .where(ids === 'all' ? undefined : anyOf(sql`${exchangeRates.currencyId}`, ids))
        .orderBy(asc(exchangeRates.fromOn)),
      (r) => r.currencyId,
    )
    return (
      await reader
        .select()
        .from(currencies)
        .where(where(currencies as never, ids))
        .orderBy(asc(currencies.code))
    ).map((c) => ({ ...c, rates: (rates.get(c.id) ?? []).map(({ fromOn, rate }) => ({ fromOn, rate })) }))
  },
  rowsOf: ({ rates, ...own }) => ({
    own: columnsOf(own),
    lists: { exchange_rates: rates.map(({ fromOn, rate }) => ({ from_on: fromOn, rate })) },
  }),
  async check(tx, edits) {
    const [own] = await rows<{ currency: string }>(tx, sql`select currency from company`)
    return edits.flatMap(({ definition }, edit) =>
      definition.code === own?.currency
        ? [{ edit, field: 'code', detail: `${own.currency} is the company’s own currency; it needs no rate.` }]
        : [],
    )
  },
}

const unitRow = (unit: Definition<'units'>): Row => {
  const { per, rec20, ...own } = unit
  const exact = per === null ? null : parts(ratio(per))
  return { ...columnsOf(own), rec20, numerator: exact?.n.toString() ?? null, denominator: exact?.d.toString() ?? null }
}

export const unitShape: DefinitionStore<'units'> = {
  kind: 'units',
  table: 'units',
  key: 'code',
  lists: {},
  load: async (reader, ids) =>
    (
      await reader
        .select()
        .from(units)
        .where(where(units as never, ids))
        .orderBy(asc(units.id))
    ).map(({ numerator, denominator, own, ...unit }) => {
      void own
      return {
        ...unit,
        dimension: unit.dimension as Definition<'units'>['dimension'],
        per: numerator === null ? null : toText(ratio(numerator).div(ratio(denominator ?? '1'))),
      }
    }),
  rowsOf: (definition) => ({ own: unitRow(definition), lists: {} }),
  check: checkUnits,
}

/**
 * The code, dimension and ratio of a unit that is used stay as they are; two units must not be read from the same word.
 */
async function checkUnits(
  tx: Tx,
  edits: readonly Edit<'units'>[],
  before: ReadonlyMap<number, Stored<'units'>>,
): Promise<Fault[]> {
  const all = await unitShape.load(tx as Reader, 'all')
  const faults: Fault[] = []
  for (const [edit, { id, definition }] of edits.entries()) {
    const was = id === null ? undefined : before.get(id)
    const word = all.find(
      (unit) =>
        unit.id !== id &&
        [unit.code, unit.symbol, unit.name, unit.plural].includes(definition.symbol) &&
        unit.symbol !== unit.name,
    )
    if (word && was?.symbol !== definition.symbol) {
      faults.push({
        edit,
        field: 'symbol',
        detail: `${definition.symbol} is how ${word.name} is written. Choose another symbol.`,
      })
    }
    if (!was) {
      continue
    }
    let moved
    if (was.code !== definition.code) {
      moved = 'code'
    } else if (was.dimension !== definition.dimension) {
      moved = 'dimension'
    } else if (
      was.per !== definition.per &&
      !(was.per !== null && definition.per !== null && ratio(was.per).equals(ratio(definition.per)))
    ) {
      moved = 'per'
    } else {
      moved = null
    }
    if (!moved) {
      continue
    }
    const uses = await usesOf(tx, 'units', [was.id])
    if (uses.length > 0) {
      faults.push({
        edit,
        field: moved,
        detail: `${was.name} is used by ${[...new Set(uses.map((use) => use.by))].join(', ')}, so what it is stays. Make another unit, and retire this one.`,
      })
    }
  }
  return faults
}
