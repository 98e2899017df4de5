import { toRaw } from 'vue'
import { describe, expect, it } from 'vitest'
import { DEFINITION_SCHEMAS } from '~~/shared/catalogue/definitions'
import { asForm } from '../ui/as-form'
import type { ListKind } from './definition-form'
import { DEFINITION_FORMS } from './definition-forms'
import { definitionOf, setAt, valueAt } from './definition-values'

// What Nuxt would import by itself.
Object.assign(globalThis, { toRaw })

const kinds = Object.keys(DEFINITION_FORMS) as ListKind[]

describe('the form of each list', () => {
  it.each(kinds)('%s: shows every field that can be edited, and nothing else', (kind) => {
    const { fields, lists, blank } = DEFINITION_FORMS[kind]
    const shown = new Set([...fields.map((field) => field.key.split('.')[0]), ...lists.map((list) => list.key)])
    expect([...shown].sort()).toEqual(Object.keys(blank).sort())
  })
  it.each(kinds)('%s: what is sent of a blank form is refused only for what is missing', (kind) => {
    const read = DEFINITION_SCHEMAS[kind].safeParse(definitionOf(kind, { ...DEFINITION_FORMS[kind].blank }))
    const missing = read.success ? [] : read.error.issues.map((issue) => issue.path[0])
    expect(
      missing.every((field) =>
        ['code', 'name', 'plural', 'symbol', 'siteId', 'fromSiteId', 'toSiteId'].includes(String(field)),
      ),
    ).toBe(true)
  })
  it.each(kinds)('%s: a line that is only begun is not sent', (kind) => {
    const form = { ...DEFINITION_FORMS[kind].blank } as Record<string, unknown>
    for (const list of DEFINITION_FORMS[kind].lists) {
      form[list.key] = [{ ...list.blank }]
    }
    const sent = definitionOf(kind, form)
    for (const list of DEFINITION_FORMS[kind].lists) {
      expect(sent[list.key]).toEqual([])
    }
  })
  it('what a group does not state is left out', () => {
    expect(
      definitionOf('groups', {
        ...DEFINITION_FORMS.groups.blank,
        defaults: { stockUnit: '', leadDays: '3', source: null },
      }).defaults,
    ).toEqual({ leadDays: '3' })
  })
  it('goes to the server and back without a change', () => {
    const stored = { id: 4, version: 2, ...DEFINITION_SCHEMAS.suppliers.parse({ code: 'S', name: 'S', calendarId: 3 }) }
    expect(
      DEFINITION_SCHEMAS.suppliers.parse(definitionOf('suppliers', asForm(stored) as Record<string, unknown>)),
    ).toEqual(DEFINITION_SCHEMAS.suppliers.parse(stored))
  })
})

describe('fields by their path', () => {
  it('one step deep or two', () => {
    const form: Record<string, unknown> = { name: 'A', defaults: { leadDays: '1' } }
    setAt(form, 'name', 'B')
    setAt(form, 'defaults.tracking', 'lot')
    expect([form, valueAt(form, 'defaults.tracking'), valueAt(form, 'nothing.there')]).toEqual([
      { name: 'B', defaults: { leadDays: '1', tracking: 'lot' } },
      'lot',
      undefined,
    ])
  })
})
