import { expect, test, type Page } from '@playwright/test'
import { generate } from 'otplib'
import { choose, dialog, faults, notice, row, signIn } from './helpers'
import { api } from './own-goods'

const NEW = 'seven copper kettles sing'

/** Invites a viewer from one page, who chooses a password on the other and is signed in there. */
async function invited(owner: Page, other: Page, name: string, email: string): Promise<void> {
  const { link } = await api<{ link: string }>(owner, 'company/people', { name, email, role: 'viewer' })
  await other.goto(link)
  await other.getByLabel(/A password of at least/).fill(NEW)
  await other.getByRole('button', { name: 'Choose it and come in' }).click()
  await expect(other.getByRole('heading', { name: 'Today' })).toBeVisible()
}

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

test('somebody is invited, chooses a password by the link, and the link is used up', async ({ page, browser }) => {
  await signIn(page)
  await page.goto('/company')
  await page.getByRole('button', { name: 'Invite a person' }).click()
  await dialog(page).getByLabel('Name').fill('Tove Lund')
  await dialog(page).getByLabel('E-mail address').fill('ines@hollowmere.example')
  await dialog(page).getByRole('button', { name: 'Invite' }).click()
  await expect(dialog(page).getByText('ines@hollowmere.example has a sign-in already.')).toBeVisible()
  await dialog(page).getByLabel('E-mail address').fill('tove@hollowmere.example')
  await choose(dialog(page).getByLabel('Role'), 'maker')
  await dialog(page).getByRole('button', { name: 'Invite' }).click()
  const link = (await page.locator('[data-test=link]').textContent())!
  await page.keyboard.press('Escape')
  await expect(row(page, 'People', 'Tove Lund')).toContainText('invited until')
  expect(await faults(page)).toEqual([])

  const other = await (await browser.newContext()).newPage()
  await other.goto(link)
  await expect(other.getByRole('heading', { name: 'Welcome, Tove Lund' })).toBeVisible()
  const field = other.getByLabel(/A password of at least/)
  await field.fill('short')
  await other.getByRole('button', { name: 'Choose it and come in' }).click()
  await expect(other.getByText('Use at least 12 characters.')).toBeVisible()
  await field.fill('password1234')
  await other.getByRole('button', { name: 'Choose it and come in' }).click()
  await expect(other.getByText(/This password is easily guessed/)).toBeVisible()
  expect(await faults(other)).toEqual([])
  await field.fill(NEW)
  await other.getByRole('button', { name: 'Choose it and come in' }).click()
  await expect(other.getByRole('heading', { name: 'Today' })).toBeVisible()
  await expect(other.getByRole('button', { name: /Tove\s*maker/ })).toBeVisible()
  await other.goto('/sign-in')
  await other.goto(link)
  await other.reload()
  await expect(other.getByText('This link was used already')).toBeVisible()
  await other.context().close()
})

test('a leaver’s open page is out at the next act, and a new role counts from the next sign-in', async ({
  page,
  browser,
}) => {
  await signIn(page)
  const other = await (await browser.newContext()).newPage()
  await invited(page, other, 'Juno Abel', 'juno@hollowmere.example')
  await other.goto('/stock')
  await expect(other.getByRole('table', { name: 'Balances' })).toBeVisible()
  await expect(other.getByRole('button', { name: 'Correct stock' })).toHaveCount(0)

  await page.goto('/company')
  await page.getByRole('button', { name: 'Change Juno Abel' }).click()
  await dialog(page).getByLabel('Move, count and correct stock').check()
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(notice(page, 'Juno Abel is changed.')).toBeVisible()
  await expect(row(page, 'People', 'Juno Abel')).toContainText('and 1 more')
  // What stands open goes on after a sign-in in place.
  await other.getByRole('tab', { name: 'Moves' }).click()
  await expect(other.getByRole('heading', { name: 'Your session has ended' })).toBeVisible()
  await other.getByLabel('Password').fill(NEW)
  await other.getByRole('button', { name: 'Go on' }).click()
  await expect(other.getByRole('heading', { name: 'Your session has ended' })).toBeHidden()
  await expect(other.getByRole('table', { name: 'Moves' })).toBeVisible()
  await other.goto('/stock')
  await expect(other.getByRole('button', { name: 'Correct stock' })).toBeVisible()

  await page.getByRole('button', { name: 'Change Juno Abel' }).click()
  await dialog(page).getByLabel('May sign in').uncheck()
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(notice(page, 'Juno Abel may no longer sign in.')).toBeVisible()
  await other.getByRole('tab', { name: 'Moves' }).click()
  await other.getByLabel('Password').fill(NEW)
  await other.getByRole('button', { name: 'Go on' }).click()
  await expect(other.getByText('E-mail address and password do not match.')).toBeVisible()
  await other.context().close()
})

test('who forgot the password gets a letter with a link, and an owner can make one', async ({ page }) => {
  await page.goto('/sign-in')
  await page.getByRole('link', { name: 'Password forgotten?' }).click()
  await expect(page.getByRole('heading', { name: 'Password forgotten' })).toBeVisible()
  await page.getByLabel('E-mail address').fill('guest@hollowmere.example')
  await page.getByRole('button', { name: 'Send me a link' }).click()
  await expect(page.getByRole('status')).toContainText('a letter with a link to a new password is on its way')
  expect(await faults(page)).toEqual([])
  await signIn(page, 'guest@hollowmere.example')
  await page.goto('/company/mail')
  await expect(page.getByText('A new password for Tsumiki').first()).toBeVisible()
})

test('the own sign-in: a new password ends other sessions, a second factor is put on, asked for and taken off', async ({
  page,
  browser,
}) => {
  await signIn(page)
  const own = await (await browser.newContext()).newPage()
  await invited(page, own, 'Wren Ito', 'wren@hollowmere.example')
  const elsewhere = await (await browser.newContext()).newPage()
  await elsewhere.request.post('/api/company/sign-in', { data: { email: 'wren@hollowmere.example', password: NEW } })
  await own.getByRole('button', { name: /Wren/ }).click()
  await own.getByRole('menuitem', { name: 'Your sign-in' }).click()
  await expect(own.getByRole('list', { name: 'Sessions' }).getByRole('listitem')).toHaveCount(2)
  await own.getByLabel('Your password of now').fill('not this one')
  await own.getByLabel(/A new one/).fill('quartz owl under moss')
  await own.getByRole('button', { name: 'Change the password' }).click()
  await expect(own.getByText('This is not your password.')).toBeVisible()
  await own.getByLabel('Your password of now').fill(NEW)
  await own.getByRole('button', { name: 'Change the password' }).click()
  await expect(notice(own, 'Your password is changed. Your 1 other session is ended.')).toBeVisible()
  await expect(own.getByRole('list', { name: 'Sessions' }).getByRole('listitem')).toHaveCount(1)
  expect((await elsewhere.request.get('/api/stock/balances')).status()).toBe(401)

  await own.getByLabel('Your password', { exact: true }).fill('quartz owl under moss')
  await own.getByRole('button', { name: 'Put a second factor on' }).click()
  const key = (await own.locator('[data-test=factor-key]').textContent())!.replaceAll(' ', '')
  await expect(own.getByRole('img', { name: 'The key as a code to scan' })).toBeVisible()
  await own.getByLabel('Code', { exact: true }).fill(await generate({ secret: key }))
  await own.getByRole('button', { name: 'Put it on' }).click()
  await expect(own.getByRole('list', { name: 'Recovery codes' }).getByRole('listitem')).toHaveCount(10)
  const spare = await own.getByRole('list', { name: 'Recovery codes' }).getByRole('listitem').first().innerText()
  expect(await faults(own)).toEqual([])

  await elsewhere.goto('/sign-in')
  await elsewhere.getByLabel('E-mail address').fill('wren@hollowmere.example')
  await elsewhere.getByLabel('Password').fill('quartz owl under moss')
  await elsewhere.getByRole('button', { name: 'Sign in', exact: true }).click()
  await elsewhere.getByLabel('Code').fill('000000')
  await elsewhere.getByRole('button', { name: 'Sign in', exact: true }).click()
  await expect(elsewhere.getByText('This code is not right')).toBeVisible()
  await elsewhere.getByLabel('Code').fill(spare.toUpperCase())
  await elsewhere.getByRole('button', { name: 'Sign in', exact: true }).click()
  await expect(elsewhere.getByRole('heading', { name: 'Today' })).toBeVisible()
  await elsewhere.context().close()

  await own.reload()
  await expect(own.getByText('9 recovery codes are left.')).toBeVisible()
  await own.getByLabel('Your password', { exact: true }).fill('quartz owl under moss')
  await own.getByRole('button', { name: 'Take it off' }).click()
  await expect(notice(own, 'The second factor is off.')).toBeVisible()
  await own.context().close()
})

test('signing out ends the session itself: its cookie opens nothing any more', async ({ page }) => {
  await signIn(page)
  const cookies = await page.context().cookies()
  await page.getByRole('button', { name: /Ines/ }).click()
  await page.getByRole('menuitem', { name: 'Sign out' }).click()
  await expect(page).toHaveURL(/\/sign-in/)
  await page.context().addCookies(cookies)
  expect((await page.request.get('/api/stock/balances')).status()).toBe(401)
})
