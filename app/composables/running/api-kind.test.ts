import { describe, expect, it } from 'vitest'
import { kindOf } from './api-kind'

describe('what a value of the interface is, in words', () => {
  it.each([
    [{ type: 'string' }, 'text'],
    [{ type: 'string', format: 'uuid' }, 'UUID'],
    [{ type: ['integer', 'string'] }, 'whole number or text'],
    [{ type: 'array', items: { type: 'number' } }, 'list of number'],
    [{ enum: ['open', 'closed'] }, 'one of “open”, “closed”'],
    [{ anyOf: [{ type: 'string' }, { const: '' }, { type: 'null' }] }, 'text or “” or null'],
    [{ $ref: '#/components/schemas/ItemRow' }, 'ItemRow'],
    [{ type: 'array', items: { $ref: '#/components/schemas/ItemRow' } }, 'list of ItemRow'],
    [{}, 'any value'],
  ])('%j', (schema, words) => expect(kindOf(schema, {})).toBe(words))
})
