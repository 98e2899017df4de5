import { randomUUID } from 'node:crypto'
import { expect, test } from '@playwright/test'
import { chooseItem, dialog, enter, notice, PASSWORD, row, choose, expectChosen } from './helpers'
import { api, itemNamed, makeItem, orderOf, putInStock, references } from './own-goods'

/*
 * What was typed survives Back, a closed tab and the end of a session; what was made at the bench survives another
 * device that was quicker.
 */

test('a new item goes on after Back and after its tab was closed, and is begun anew when asked', async ({
  page,
  context,
}) => {
  await enter(page, '/catalogue')
  await page.goto('/catalogue/new')
  await page.getByLabel('Name', { exact: true }).fill('Half a thought')
  await page.getByLabel('Name', { exact: true }).press('Tab')
  await page.waitForTimeout(400)
  await page.goBack()
  await expect(page).toHaveURL(/\/catalogue$/)
  await page.goForward()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Half a thought')
  await page.close()
  const next = await context.newPage()
  await next.goto('/catalogue/new')
  await expect(next.getByText('This goes on with what you had typed on')).toBeVisible()
  await expect(next.getByLabel('Name', { exact: true })).toHaveValue('Half a thought')
  await next.getByRole('button', { name: 'Begin anew' }).click()
  await expect(next.getByLabel('Name', { exact: true })).toHaveValue('')
  await next.reload()
  await expect(next.getByLabel('Name', { exact: true })).toHaveValue('')
})

test('an order goes on with its lines, units and prices; once it is entered the next one is empty', async ({
  page,
}) => {
  await enter(page, '/demand')
  const id = await makeItem(page, 'KEPT-CLOTH', {
    stockUnit: 'm',
    buyingUnit: 'm',
    sellingUnit: 'm',
    finestStep: '0.01',
    price: '8',
  })
  expect(id).toBeGreaterThan(0)
  await page.goto('/demand/orders/new')
  await choose(page.getByLabel('Customer', { exact: true }), 'Bramble and Daughter')
  await page.getByLabel('Due on').fill('2026-10-30')
  await chooseItem(page, 'Item', 'KEPT-CLOTH')
  await page.getByLabel('Quantity', { exact: true }).fill('250')
  await choose(page.getByLabel('Unit of Quantity'), 'cm')
  await page.getByLabel('Unit price').fill('0.07')
  await page.getByLabel('Unit price').press('Tab')
  await page.waitForTimeout(400)
  await page.reload()
  await expect(page.getByRole('combobox', { name: 'Item', exact: true })).toHaveValue(/^KEPT-CLOTH/)
  await expect(page.getByLabel('Quantity', { exact: true })).toHaveValue('250')
  await expectChosen(page.getByLabel('Unit of Quantity'), 'cm')
  await expect(page.getByLabel('Unit price')).toHaveValue('0.07')
  await expect(page.getByLabel('Due on')).toHaveValue('30 Oct 2026')
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(row(page, 'Order lines', 'KEPT-CLOTH')).toContainText(/250\s*cm.*=\s*2\.5\s*m/)
  await page.goto('/demand/orders/new')
  await expect(page.getByLabel('Quantity', { exact: true })).toHaveValue('')
  await expect(page.getByText('This goes on with')).toHaveCount(0)
})

test('a change of an order and goods in go on after their tab was closed', async ({ page, context }) => {
  await enter(page, '/demand')
  const order = await orderOf(page, await itemNamed(page, 'NB-POCKET'), '3', '2026-11-24')
  const { bins, suppliers } = await references(page)
  const itemId = await makeItem(page, 'KEPT-CARD')
  const bought = await api(page, 'purchasing/orders', {
    key: randomUUID(),
    supplierId: suppliers.find((supplier) => supplier.code === 'TULLY')!.id,
    note: '',
    lines: [{ itemId, quantity: '100', unit: 'piece', price: '0.90', dueOn: '2026-10-20' }],
  })
  await page.goto(`/demand/orders/${order}`)
  await page.getByRole('button', { name: 'Change the order' }).click()
  await page.getByLabel('Quantity', { exact: true }).fill('7')
  await page.getByLabel('Note', { exact: true }).fill('Ribbon in blue')
  await page.waitForTimeout(400)
  await page.goto(`/purchasing/${bought.id}`)
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await dialog(page).getByLabel('Packing list number').fill('PL-77')
  await dialog(page).getByLabel('Received of KEPT-CARD', { exact: true }).fill('40')
  await page.waitForTimeout(400)
  // Somebody else receives two of the hundred meanwhile.
  const stored = (await (await page.request.get(`/api/purchasing/orders/${bought.id}`)).json()) as {
    version: number
    lines: { id: number }[]
  }
  await api(page, `purchasing/orders/${bought.id}/receive`, {
    key: randomUUID(),
    version: stored.version,
    packingList: 'PL-76',
    lines: [{ lineId: stored.lines[0]!.id, quantity: '2', unit: 'piece', binId: bins[0]!.id, lot: '' }],
  })
  await page.close()

  const next = await context.newPage()
  await next.goto(`/demand/orders/${order}`)
  await next.getByRole('button', { name: 'Change the order' }).click()
  await expect(next.getByText('This goes on with what you had typed on')).toBeVisible()
  await expect(next.getByLabel('Quantity', { exact: true })).toHaveValue('7')
  await next.getByRole('button', { name: 'Save the order' }).click()
  await expect(notice(next, /is changed/)).toBeVisible()
  await expect(row(next, 'Order lines', 'NB-POCKET')).toContainText(/7\s*pc/)
  // Once saved it is forgotten: the next change begins with what is stored.
  await next.getByRole('button', { name: 'Change the order' }).click()
  await expect(next.getByLabel('Note', { exact: true })).toHaveValue('Ribbon in blue')
  await expect(next.getByText('This goes on with what you had typed on')).toHaveCount(0)

  await next.goto(`/purchasing/${bought.id}`)
  await next.getByRole('button', { name: 'Receive goods' }).click()
  await expect(dialog(next).getByLabel('Packing list number')).toHaveValue('PL-77')
  await expect(dialog(next).getByText('The order has changed since you typed this')).toBeVisible()
  await expect(dialog(next).getByLabel('Received of KEPT-CARD', { exact: true })).toHaveValue('40')
  await dialog(next).getByRole('button', { name: 'Begin anew' }).click()
  await expect(dialog(next).getByLabel('Received of KEPT-CARD', { exact: true })).toHaveValue('')
  await expect(dialog(next).getByText('The order has changed since you typed this')).toHaveCount(0)
  await expect(dialog(next).getByRole('button', { name: 'Receive 0 lines' })).toBeDisabled()
})

test('where the session ends the same person signs in again in place, and what was pressed is done', async ({
  page,
  context,
}) => {
  await enter(page, '/catalogue/new')
  await page.getByLabel('Code', { exact: true }).fill('AFTER-TWELVE')
  await page.getByLabel('Name', { exact: true }).fill('Written before the session ended')
  await choose(page.getByLabel('Group', { exact: true }), 'Tools')
  await context.clearCookies()
  await page.getByRole('button', { name: 'Add the item' }).click()
  await expect(dialog(page)).toContainText('Sign in again as Ines Hartwell. What you typed is still here, and goes on.')
  await dialog(page).getByLabel('Password').fill('not the password')
  await dialog(page).getByRole('button', { name: 'Go on' }).click()
  await expect(dialog(page).getByRole('alert').first()).toBeVisible()
  await dialog(page).getByLabel('Password').fill(PASSWORD)
  await dialog(page).getByRole('button', { name: 'Go on' }).click()
  await expect(notice(page, 'AFTER-TWELVE is in the catalogue.')).toBeVisible()
  await expect(page.getByRole('heading', { name: /AFTER-TWELVE/ })).toBeVisible()
})

test('also out of a dialog: what was typed there stays, and is recorded once the person is back', async ({
  page,
  context,
}) => {
  await enter(page, '/stock')
  const id = await makeItem(page, 'DIALOG-KEPT')
  await putInStock(page, id, '9')
  await page.goto(`/stock?correct=${id}`)
  await dialog(page).getByLabel('By how much', { exact: true }).fill('2')
  await dialog(page).getByLabel('Note').fill('dropped behind the shelf')
  await context.clearCookies()
  await dialog(page)
    .getByRole('button', { name: /^Record 2/ })
    .click()
  const door = page.getByRole('dialog').filter({ hasText: 'Your session has ended' })
  await door.getByLabel('Password').fill(PASSWORD)
  await door.getByRole('button', { name: 'Go on' }).click()
  await expect(notice(page, /2 pc less/)).toBeVisible()
  await page.goto('/stock?search=DIALOG-KEPT')
  await expect(row(page, 'Balances', 'DIALOG-KEPT')).toContainText(/7\s*pc/)
})

test('what came of a build goes on after its tab was closed, with what was used and what was spoiled', async ({
  page,
  context,
}) => {
  await enter(page, '/workshop')
  const leaf = await makeItem(page, 'KEPT-LEAF')
  const pad = await makeItem(page, 'KEPT-PAD', { source: 'made' })
  await putInStock(page, leaf, '40')
  await api(page, 'catalogue/definitions/bills', {
    itemId: pad,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    lines: [{ itemId: leaf, quantity: '2', unit: 'piece' }],
  })
  const order = { key: randomUUID(), itemId: pad, quantity: '6', unit: 'piece', dueOn: '2026-10-08' }
  const build = await api(page, 'workshop/builds', order)
  await page.goto(`/workshop/builds/${build.id}`)
  await page.getByRole('button', { name: 'Build 6', exact: true }).click()
  await dialog(page).getByLabel('Came out good', { exact: true }).fill('4')
  await dialog(page).getByRole('button', { name: 'Other than the bill: KEPT-LEAF' }).click()
  await dialog(page).getByLabel('Used of KEPT-LEAF', { exact: true }).fill('9')
  await page.waitForTimeout(400)
  await page.close()

  const next = await context.newPage()
  await next.goto(`/workshop/builds/${build.id}`)
  await next.getByRole('button', { name: 'Build 6', exact: true }).click()
  await expect(dialog(next).getByText('This goes on with what you had typed on')).toBeVisible()
  await expect(dialog(next).getByLabel('Came out good', { exact: true })).toHaveValue('4')
  await expect(dialog(next).getByLabel('Used of KEPT-LEAF', { exact: true })).toHaveValue('9')
  await dialog(next).getByRole('button', { name: 'Build 4', exact: true }).click()
  await expect(notice(next, /Build 4 KEPT-PAD recorded/)).toBeVisible()
  await next.getByRole('button', { name: 'Build 2', exact: true }).click()
  await expect(dialog(next).getByText('This goes on with what you had typed on')).toHaveCount(0)
  await next.goto('/stock?search=KEPT-LEAF')
  await expect(row(next, 'Balances', 'KEPT-LEAF')).toContainText(/31\s*pc/)
})

test('at the bench: another device was quicker; what still fits is recorded, the rest is told', async ({
  page,
  context,
  browser,
}) => {
  await page.setViewportSize({ width: 1024, height: 768 })
  await enter(page, '/workshop')
  const leaf = await makeItem(page, 'QUICK-LEAF')
  const card = await makeItem(page, 'QUICK-CARD', { source: 'made' })
  await putInStock(page, leaf, '20')
  await api(page, 'catalogue/definitions/bills', {
    itemId: card,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    lines: [{ itemId: leaf, quantity: '1', unit: 'piece' }],
  })
  const order = { key: randomUUID(), itemId: card, quantity: '5', unit: 'piece', dueOn: '2026-10-08' }
  const build = await api(page, 'workshop/builds', order)
  await page.goto(`/workshop/bench/${build.id}`)
  await expect(page.getByLabel('Made now')).toBeVisible()
  await context.setOffline(true)
  await page.getByLabel('Made now').fill('3')
  await page.getByRole('button', { name: 'Record 3' }).click()
  await dialog(page).getByRole('button', { name: 'Record 3' }).click()
  await expect(page.getByText('No connection. Go on working; 1 act waits.')).toBeVisible()

  const other = await (await browser.newContext()).newPage()
  await enter(other, '/workshop')
  const { bins } = await references(other)
  await api(other, `workshop/builds/${build.id}/record`, {
    key: randomUUID(),
    version: 1,
    made: '3',
    unit: 'piece',
    binId: bins.find((bin) => bin.code === 'SHELF-A')!.id,
  })
  await other.context().close()

  await context.setOffline(false)
  await expect(notice(page, /2 pc QUICK-CARD recorded/)).toBeVisible()
  await expect(page.getByRole('alert').filter({ hasText: '1 pc QUICK-CARD was not recorded.' })).toContainText(
    'Meanwhile another device has recorded',
  )
  await page.getByRole('button', { name: 'Take it out' }).click()
  await expect(page.locator('[data-test=bench-made]')).toHaveText('5')
})
