import { describe, expect, it } from 'vitest'
import { ItemEdit } from '~~/shared/catalogue'
import { bodyOf, formOf } from './use-item-form'

const item = {
  code: 'CLOTH', name: 'Cloth', groupId: 1, status: 'active', source: 'bought', tracking: 'lot', stockUnit: 'm', buyingUnit: 'm2', sellingUnit: 'm', finestStep: '0.01', leadDays: 0, safetyStock: '2', shelfLifeDays: null, price: null, note: '',
  relations: [{ unit: 'm', ofUnit: 'm2', numerator: '33', denominator: '25' }, { unit: 'roll', ofUnit: 'm', numerator: '100', denominator: '3' }],
  terms: { supplierId: 2, supplierCode: 'BC', unit: 'm2', price: '9.50', minimum: '13.2', multiple: '6.6', leadDays: 10 },
}

describe('the item form', () => {
  it('shows a ratio as the decimal it is, and as a fraction only where none ends', () => { expect(formOf(item).relations.map(r => r.per)).toEqual(['1.32', '100/3']) })
  it('goes to the server and back without a change', () => {
    const sent = ItemEdit.parse(bodyOf(formOf(item)))
    expect(sent).toMatchObject({ code: 'CLOTH', safetyStock: '2', shelfLifeDays: null, price: null, terms: { supplierId: 2, minimum: '13.2', leadDays: 10 } })
    expect(sent.relations).toEqual([{ unit: 'm', per: '1.32', ofUnit: 'm2' }, { unit: 'roll', per: '100/3', ofUnit: 'm' }])
  })
  it('drops a supplier’s terms of what is no longer bought from one', () => { expect(bodyOf({ ...formOf(item), source: 'made' }).terms).toBeNull() })
  it('a new item begins as a bought one, counted in pieces', () => { expect(formOf(null, 7)).toMatchObject({ groupId: 7, source: 'bought', stockUnit: 'piece', finestStep: '1' }) })
})
