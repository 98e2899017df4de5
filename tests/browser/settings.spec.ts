import { expect, test, type Page } from '@playwright/test'
import { signIn, choose, expectChosen } from './helpers'

const open = async (page: Page): Promise<void> => {
  await page.goto('/')
  await page.getByRole('button', { name: /Ines/ }).click()
  await page.getByRole('menuitem', { name: 'Company settings' }).click()
  await expect(page.getByRole('heading', { name: 'Company settings' })).toBeVisible()
}

test('the company’s settings: a name, the decimal sign, the calendar that counts for whoever has none', async ({
  page,
}) => {
  await signIn(page)
  await open(page)
  await expect(page.getByLabel('Currency')).toBeDisabled()
  await expect(page.getByText('Stays: value is on the books in it.')).toBeVisible()
  await expectChosen(page.getByLabel('Working calendar'), 'Bindery week')

  await page.getByLabel('Name').fill('')
  await page.getByRole('button', { name: 'Save the settings' }).click()
  await expect(page.getByText('Give the company’s name.')).toBeVisible()

  await page.getByLabel('Name').fill('Hollowmere Bindery & Daughters')
  await choose(page.getByLabel('Decimal sign'), 'a comma: 0,5')
  await choose(page.getByLabel('Large numbers'), '1.250.000,5')
  await choose(page.getByLabel('Dates'), 'Oct 5, 2026')
  await page.getByRole('button', { name: 'Save the settings' }).click()
  await expect(page.getByText('The company’s settings are saved.')).toBeVisible()
  await expect(page.getByRole('banner')).toContainText('Mon Oct 5')
  await page.goto('/books')
  await expect(page.getByText(/€\d\.\d{3},\d{2}/).first()).toBeVisible()
  await open(page)
  await expect(page.getByRole('link', { name: 'Hollowmere Bindery & Daughters' })).toBeVisible()

  await page.getByLabel('Name').fill('Hollowmere Bindery')
  await choose(page.getByLabel('Decimal sign'), 'a point: 0.5')
  await choose(page.getByLabel('Large numbers'), '1 250 000.5')
  await choose(page.getByLabel('Dates'), '5 Oct 2026')
  await page.getByRole('button', { name: 'Save the settings' }).click()
  await expect(page.getByRole('link', { name: 'Hollowmere Bindery', exact: true })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Save the settings' })).toBeDisabled()
})
