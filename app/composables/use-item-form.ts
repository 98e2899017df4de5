import { ratio, toText } from '~~/core/units'

interface LoadedItem {
  code: string, name: string, groupId: number, status: string, source: string, tracking: string, stockUnit: string, buyingUnit: string, sellingUnit: string, finestStep: string, leadDays: number, safetyStock: string
  shelfLifeDays: number | null, price: string | null, note: string, relations: readonly { unit: string, ofUnit: string, numerator: string, denominator: string }[]
  terms: { supplierId: number, supplierCode: string, unit: string, price: string, minimum: string, multiple: string, leadDays: number } | null
}

export interface ItemForm {
  code: string, name: string, groupId: number | null, status: string, source: string, tracking: string, stockUnit: string, buyingUnit: string, sellingUnit: string, finestStep: string, leadDays: string, safetyStock: string
  shelfLifeDays: string, price: string, note: string, relations: { unit: string, per: string, ofUnit: string }[]
  terms: { supplierId: number | null, supplierCode: string, unit: string, price: string, minimum: string, multiple: string, leadDays: string } | null
}

/** An item as its form edits it: text in every field, as typed. */
export function formOf(item: LoadedItem | null, groupId: number | null = null): ItemForm {
  if (!item) {
    return { code: '', name: '', groupId, status: 'active', source: 'bought', tracking: 'none', stockUnit: 'piece', buyingUnit: 'piece', sellingUnit: 'piece', finestStep: '1', leadDays: '0', safetyStock: '0', shelfLifeDays: '', price: '', note: '', relations: [], terms: null }
  }
  const { relations, terms, ...own } = item
  return {
    ...own, leadDays: String(item.leadDays), shelfLifeDays: item.shelfLifeDays === null ? '' : String(item.shelfLifeDays), price: item.price ?? '',
    relations: relations.map(r => ({ unit: r.unit, ofUnit: r.ofUnit, per: toText(ratio(r.numerator).div(ratio(r.denominator))) })),
    terms: terms && { supplierId: terms.supplierId, supplierCode: terms.supplierCode, unit: terms.unit, price: terms.price, minimum: terms.minimum, multiple: terms.multiple, leadDays: String(terms.leadDays) },
  }
}

/** The form as the server takes it. */
export const bodyOf = (form: ItemForm) => ({ ...form, shelfLifeDays: form.shelfLifeDays === '' ? null : form.shelfLifeDays, price: form.price === '' ? null : form.price, terms: form.source === 'bought' ? form.terms : null })
