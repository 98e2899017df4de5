import { expect, test } from '@playwright/test'
import { dialog, enter } from './helpers'
import { makeItem, putInStock } from './own-goods'

const METRES = { stockUnit: 'm', buyingUnit: 'm', sellingUnit: 'm' }

test('a step that is too coarse is told beside the field, with the better one to take', async ({ page }) => {
  await enter(page, '/stock')
  const id = await makeItem(page, 'STEP-COARSE', { stockUnit: 'kg', buyingUnit: 'kg', sellingUnit: 'kg' })
  // In a quantity: what is typed cannot be recorded so.
  await page.goto(`/stock?correct=${id}`)
  await dialog(page).getByLabel('By how much', { exact: true }).fill('10.4')
  await expect(dialog(page).getByText('10.4 kg cannot be recorded at 1 kg: it would become 10 kg.')).toBeVisible()
  await dialog(page).getByRole('button', { name: 'record it in steps of 0.1' }).click()
  await expect(dialog(page).getByText('cannot be recorded')).toHaveCount(0)
  // On the item: a kilogram is written with three decimals.
  await page.goto(`/catalogue/${id}`)
  await page.getByRole('button', { name: /Units and packs/ }).click()
  await expect(page.getByLabel('Finest step')).toHaveValue('0.1')
  await expect(page.getByText(/^1.04 kg cannot be recorded at 0.1 kg: it would become 1 kg\./)).toBeVisible()
  await page.getByRole('button', { name: 'take 0.001' }).click()
  await expect(page.getByLabel('Finest step')).toHaveValue('0.001')
  await expect(page.getByText('Saved')).toBeVisible()
})

test('another width is asked for with what it does to stock, and is left or taken', async ({ page }) => {
  await enter(page, '/stock')
  const id = await makeItem(page, 'WIDE-CLOTH', {
    ...METRES,
    finestStep: '0.01',
    relations: [{ unit: 'm', per: '1.5', ofUnit: 'm2' }],
  })
  await putInStock(page, id, '20', 'm')
  await page.goto(`/catalogue/${id}`)
  await page.getByRole('button', { name: /Units and packs/ }).click()
  const width = page.getByLabel('holds, line 1', { exact: true })
  await width.fill('1.2')
  await width.press('Tab')
  await expect(dialog(page)).toContainText('WIDE-CLOTH: 20 m in stock are 30 m² now, then 24 m².')
  await dialog(page).getByRole('button', { name: 'Cancel' }).click()
  await expect(width).toHaveValue('1.5')
  await width.fill('1.2')
  await width.press('Tab')
  await dialog(page).getByRole('button', { name: 'Change them' }).click()
  await expect(page.getByText('Saved')).toBeVisible()
  await page.reload()
  await expect(width).toHaveValue('1.2')
})
