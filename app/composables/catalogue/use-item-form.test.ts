import { describe, expect, it } from 'vitest'
import { ItemEdit } from '~~/shared/catalogue/item'
import { asForm } from '../ui/as-form'
import { blankItem, followGroup, followStockUnit, itemOf, joinGroup, takeSettled } from './use-item-form'

const item = ItemEdit.parse({
  code: 'CLOTH',
  name: 'Cloth',
  groupId: 3,
  source: 'bought',
  tracking: 'lot',
  stockUnit: 'm',
  buyingUnit: 'm2',
  sellingUnit: 'm',
  finestStep: '0.01',
  safetyStock: '2',
  shelfLifeDays: null,
  price: '12.50',
  inherited: ['tracking'],
  relations: [
    { unit: 'm', per: '1.32', ofUnit: 'm2' },
    { unit: 'roll', per: '100/3', ofUnit: 'm' },
  ],
  terms: [{ supplierId: 5, unit: 'm2', price: '9', leadDays: 8, tiers: [{ fromQuantity: '40', price: '8.5' }] }],
  codes: [{ code: 'W-12' }],
})

describe('the item form', () => {
  it('goes to the server and back without a change', () => {
    expect(ItemEdit.parse(itemOf(asForm(item)))).toEqual(item)
  })
  it('sends no line that is only begun', () => {
    const form = asForm(item)
    form.relations.push({ unit: 'box', per: '', ofUnit: 'm' })
    form.terms.push({
      supplierId: null,
      rank: '2',
      supplierCode: '',
      unit: 'm',
      price: '',
      tiers: [],
      minimum: '0',
      multiple: '0',
      leadDays: '0',
    })
    form.marks.push({
      siteId: 1,
      fromOn: '',
      untilOn: '',
      yearly: false,
      safetyStock: '',
      reorderPoint: '',
      targetStock: '',
      maximumStock: '',
    })
    expect(ItemEdit.parse(itemOf(form))).toEqual(item)
  })
  it('an answer that comes late does not overwrite what was typed meanwhile', () => {
    const sent = { ...asForm(item), finestStep: '0.5', inherited: ['tracking', 'leadDays'] }
    const form = { ...sent, finestStep: '1', inherited: ['tracking', 'leadDays', 'finestStep'] }
    takeSettled(form, sent, { ...sent, leadDays: '7' })
    expect(form).toMatchObject({ finestStep: '1', leadDays: '7', inherited: ['tracking', 'leadDays', 'finestStep'] })
  })
  it('begins with what the group says, and is its own where the group is silent', () => {
    expect(blankItem(7, { stockUnit: 'sheet', tracking: 'lot' })).toMatchObject({
      groupId: 7,
      stockUnit: 'sheet',
      buyingUnit: 'sheet',
      tracking: 'lot',
      source: 'bought',
      finestStep: '1',
      inherited: ['stockUnit', 'tracking'],
    })
  })
  it('begins with the finest step of its stock unit, unless one was typed or comes from the group', () => {
    const [piece, kg, m] = [{ decimals: 0 }, { decimals: 3 }, { decimals: 2 }]
    const form = blankItem(null, {})
    followStockUnit(form, piece, kg)
    expect(form.finestStep).toBe('0.001')
    followStockUnit(form, kg, m)
    expect(form.finestStep).toBe('0.01')
    form.finestStep = '0.5'
    followStockUnit(form, m, piece)
    expect(form.finestStep).toBe('0.5')
    const grouped = blankItem(3, { finestStep: '1' })
    followStockUnit(grouped, piece, kg)
    expect(grouped.finestStep).toBe('1')
  })
  it('takes over what a group states when it comes into it, but for what was typed', () => {
    const form = blankItem(null, {})
    form.leadDays = '9'
    joinGroup(form, { stockUnit: 'm', finestStep: '0.01', leadDays: 2 })
    expect(form).toMatchObject({
      stockUnit: 'm',
      buyingUnit: 'm',
      sellingUnit: 'm',
      makingUnit: 'm',
      finestStep: '0.01',
      leadDays: '9',
      inherited: ['stockUnit', 'finestStep'],
    })
    joinGroup(form, { tracking: 'lot' })
    expect(form).toMatchObject({
      stockUnit: 'piece',
      buyingUnit: 'piece',
      finestStep: '1',
      leadDays: '9',
      tracking: 'lot',
      inherited: ['tracking'],
    })
  })
  it('follows another group in what it inherits, and in nothing else', () => {
    const form = asForm(item)
    followGroup(form, { tracking: 'none', finestStep: '5', leadDays: 3 })
    expect(form).toMatchObject({ tracking: 'none', finestStep: '0.01', leadDays: '0', inherited: ['tracking'] })
    followGroup(form, {})
    expect(form).toMatchObject({ tracking: 'none', inherited: [] })
  })
})
