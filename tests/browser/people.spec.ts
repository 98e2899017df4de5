import { expect, test } from '@playwright/test'
import { dialog, notice, signIn, choose } from './helpers'

test('a wrong password is told beside its field', async ({ page }) => {
  await page.goto('/sign-in')
  await page.getByLabel('E-mail address').fill('ines@hollowmere.example')
  await page.getByLabel('Password').fill('not this one')
  await page.getByRole('button', { name: 'Sign in', exact: true }).click()
  await expect(page.getByRole('alert')).toHaveText('E-mail address and password do not match.')
})

test('a viewer sees, but may not change: neither on the screen nor past it', async ({ page }) => {
  await signIn(page, 'guest@hollowmere.example')
  await page.goto('/stock')
  await expect(page.getByRole('table', { name: 'Balances' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Correct stock' })).toHaveCount(0)
  const answer = await page.request.post('/api/stock/corrections', { data: {} })
  expect(answer.status()).toBe(403)
  expect(((await answer.json()) as { detail: string }).detail).toBe(
    'You are signed in as viewer. This needs one of: owner, stockkeeper.',
  )
})

test('nobody gets in without signing in', async ({ page }) => {
  expect((await page.request.get('/api/stock/balances')).status()).toBe(401)
  await page.goto('/stock')
  await expect(page).toHaveURL(/\/sign-in\?to=/)
})

test('an owner adds a person, who can then sign in', async ({ page }) => {
  await signIn(page)
  await page.goto('/company')
  await page.getByRole('button', { name: 'Add a person' }).click()
  await dialog(page).getByLabel('Name').fill('Tove Lund')
  await dialog(page).getByLabel('E-mail address').fill('tove@hollowmere.example')
  await dialog(page)
    .getByLabel(/First password/)
    .fill('short')
  await dialog(page).getByRole('button', { name: 'Add the person' }).click()
  await expect(dialog(page).getByText('Use at least 10 characters.')).toBeVisible()
  await dialog(page)
    .getByLabel(/First password/)
    .fill('boards-and-thread')
  await choose(dialog(page).getByLabel('Role'), 'maker')
  await dialog(page).getByRole('button', { name: 'Add the person' }).click()
  await expect(notice(page, 'Tove Lund can sign in.')).toBeVisible()
  await page.context().clearCookies()
  await signIn(page, 'tove@hollowmere.example')
})
