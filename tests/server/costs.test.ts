import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { COST_FIELDS, withoutCosts } from '~~/server/utils/costs'
import { isAllowed } from '~~/shared/company/rights'
import type { ApiDescription, ApiSchema } from '~~/shared/running/api-description'

/** What sounds like money, and is none of what things cost: selling prices, quantities, exchange rates of lists. */
const NO_COST = new Set([
  '/api/catalogue/definitions/:kind/:id price',
  '/api/catalogue/definitions/:kind/:id prices',
  '/api/catalogue/definitions/:kind/:id prices.price',
  '/api/catalogue/definitions/:kind/:id lowestPrice',
  '/api/catalogue/definitions/:kind/:id highestPrice',
  '/api/catalogue/definitions/:kind/:id rates',
  '/api/catalogue/definitions/:kind/:id rates.rate',
  // What it sells for, and measures.
  '/api/purchasing/orders/:id lines.forOrder.price',
  '/api/stock/inspections/chart values',
  '/api/stock/inspections/chart values.value',
  '/api/catalogue/items rows.price',
  '/api/catalogue/items/:id price',
  '/api/catalogue/items/:id prices',
  '/api/catalogue/items/:id prices.price',
  '/api/catalogue/items/:id lowestPrice',
  '/api/catalogue/items/:id highestPrice',
  '/api/catalogue/items/:id/sheet units.value',
  '/api/demand/history periods.value',
  '/api/demand/history/series history.series.values',
  '/api/demand/orders rows.value',
  '/api/demand/orders/:id lines.price',
  '/api/demand/shop/orders lines.price',
  '/api/demand/shop/products price',
  '/api/structure/parts items.price',
])
const SOUNDS_LIKE_MONEY =
  /^(?:.*[cC]ost(?:Now|Then|Before|After)?|.*[pP]rices?|values?|worth|amount|spend|adjusted|writtenOff|uninvoiced|unpriced|rates?|workRate)$/

describe('what things cost', () => {
  const description = JSON.parse(readFileSync('.output/server/openapi.json', 'utf8')) as ApiDescription

  /** Every field of an answer that sounds like money, from outside in. */
  function moneyIn(schema: ApiSchema, before: readonly string[] = [], seen: readonly string[] = []): string[] {
    const name = schema.$ref?.split('/').at(-1)
    if (name !== undefined) {
      return seen.includes(name) ? [] : moneyIn(description.components.schemas[name]!, before, [...seen, name])
    }
    const inner = [schema.items, ...(schema.anyOf ?? []), ...(schema.oneOf ?? []), ...(schema.prefixItems ?? [])]
    return [
      ...Object.entries(schema.properties ?? {}).flatMap(([field, own]) => [
        ...(SOUNDS_LIKE_MONEY.test(field) ? [[...before, field].join('.')] : []),
        ...moneyIn(own, [...before, field], seen),
      ]),
      ...inner.flatMap((part) => (part ? moneyIn(part, before, seen) : [])),
    ]
  }

  it('is hidden in every answer that people without the right can get, or is listed as no cost', () => {
    const told: string[] = []
    for (const [path, methods] of Object.entries(description.paths)) {
      const route = path.replaceAll(/\{(\w+)\}/g, ':$1')
      for (const { 'x-right': right, responses } of Object.values(methods)) {
        const schema = responses['200']!.content['application/json']?.schema
        // Whoever has these rights may see costs.
        if (!schema || ['costs', 'books', 'buy', 'plan', 'catalogue', 'people'].includes(right ?? '')) {
          continue
        }
        const hidden = COST_FIELDS[route] ?? []
        const isHidden = (field: string): boolean =>
          hidden.some((known) => field === known || field.startsWith(`${known}.`))
        told.push(
          ...moneyIn(schema)
            .filter((field) => !isHidden(field) && !NO_COST.has(`${route} ${field}`))
            .map((field) => `${route} ${field}`),
        )
      }
    }
    expect([...new Set(told)]).toEqual([])
  })
  it('names no field that is not there', () => {
    const wrong = Object.entries(COST_FIELDS).flatMap(([route, fields]) => {
      const path = route.replaceAll(/:(\w+)/g, '{$1}')
      const answers = Object.values(description.paths[path] ?? {}).map((operation) =>
        JSON.stringify(allFields(operation.responses['200']!.content['application/json']?.schema ?? {})),
      )
      return fields
        .filter((field) => !answers.some((answer) => answer.includes(`"${field}"`)))
        .map((field) => `${route} ${field}`)
    })
    expect(wrong).toEqual([])
  })
  function allFields(schema: ApiSchema, before: readonly string[] = [], seen: readonly string[] = []): string[] {
    const name = schema.$ref?.split('/').at(-1)
    if (name !== undefined) {
      return seen.includes(name) ? [] : allFields(description.components.schemas[name]!, before, [...seen, name])
    }
    const inner = [schema.items, ...(schema.anyOf ?? []), ...(schema.oneOf ?? [])]
    return [
      ...Object.entries(schema.properties ?? {}).flatMap(([field, own]) => [
        [...before, field].join('.'),
        ...allFields(own, [...before, field], seen),
      ]),
      ...inner.flatMap((part) => (part ? allFields(part, before, seen) : [])),
    ]
  }

  it('stands as null where it stood, at every depth; all else stays', () => {
    const answer = {
      lines: [{ id: 1, price: '2', value: '4' }],
      total: '4',
      number: 'PO-1',
      invoices: [{ amount: '4' }],
    }
    expect(withoutCosts('/api/purchasing/orders/:id', {}, answer)).toEqual({
      lines: [{ id: 1, price: null, value: null }],
      total: null,
      number: 'PO-1',
      invoices: null,
    })
    expect(answer.total).toBe('4')
    expect(withoutCosts('/api/find', {}, answer)).toBe(answer)
  })
  it.each([
    ['a file of it', {}, 'a,b\n1,2'],
    ['bytes of it', {}, Buffer.from('x')],
    ['a list in its order', { sort: '-value' }, { rows: [] }],
    ['a list narrowed by it', { filter: ['value~12'] }, { rows: [] }],
  ])('is refused as %s', (_, query, answer) => {
    expect(() => withoutCosts('/api/stock/moves', query, answer)).toThrow('which you may not see')
  })
  it('is seen by whoever changes it or plans with it, within what a key allows', () => {
    const sees = (role: 'maker' | 'buyer', rights: ('costs' | 'plan')[] = [], limitedTo?: ('see' | 'buy')[]): boolean =>
      isAllowed({ role, rights, limitedTo }, 'costs')
    expect([sees('maker'), sees('maker', ['costs']), sees('maker', ['plan'])]).toEqual([false, true, true])
    expect([sees('buyer'), sees('buyer', [], ['see']), sees('buyer', [], ['buy'])]).toEqual([true, false, true])
  })
})
