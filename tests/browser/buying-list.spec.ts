import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, faults, notice, row } from './helpers'
import { api, makeItem, orderOf, references } from './own-goods'

/*
 * Tully sells BU-CLIP at 0.25, from 100 on at 0.20, in steps of 4, and Arden at 0.30. 88 are wanted: 88 at 0.25 are
 * 22.00; 12 more make 100 at 0.20, 20.00, and save 2.00. Split, 60 from Arden are 18.00.
 */
let clip = 0
let order = { id: 0, number: '' }
test.describe.configure({ mode: 'serial' })

const terms = async (page: Page) => {
  const { suppliers } = await references(page)
  const of = (code: string) => suppliers.find((supplier) => supplier.code === code)!.id
  const plain = { unit: 'piece', minimum: '0', tiers: [] }
  return [
    {
      ...plain,
      supplierId: of('TULLY'),
      price: '0.25',
      multiple: '4',
      leadDays: 5,
      tiers: [{ fromQuantity: '100', price: '0.20', fromOn: null, untilOn: null }],
    },
    { ...plain, supplierId: of('ARDEN'), price: '0.30', multiple: '0', leadDays: 3, rank: 2 },
  ]
}

test('something is written down; its suppliers stand side by side; a little more costs less', async ({ page }) => {
  await enter(page, '/purchasing?tab=list')
  clip = await makeItem(page, 'BU-CLIP', { source: 'bought', terms: await terms(page) })
  await page.getByRole('button', { name: 'Write something down' }).click()
  const field = dialog(page).getByRole('combobox', { name: 'Item' })
  await field.fill('BU-CLIP')
  await dialog(page).getByRole('option').filter({ hasText: 'BU-CLIP' }).click()
  await dialog(page).getByRole('textbox', { name: 'Quantity' }).fill('88')
  await dialog(page).getByLabel('Needed by').fill('2026-10-30')
  await dialog(page).getByLabel('What for').fill('more clips')
  await dialog(page).getByRole('button', { name: 'Put it on the buying list' }).click()
  await expect(notice(page, 'It is on the buying list.')).toBeVisible()
  const line = row(page, 'Buying list', 'BU-CLIP')
  await expect(line).toContainText('Tully Threads and Tools')
  await expect(line).toContainText('22.00')
  expect(await faults(page)).toEqual([])

  await line.getByText('more clips').click()
  const tully = page.getByRole('region', { name: 'Tully Threads and Tools' })
  await expect(tully).toContainText('in steps of 4 pc')
  await tully.getByRole('button', { name: /^12 pc more cost .*0\.20 each and save .*2\.00$/ }).click()
  await expect(tully).toContainText('20.00')
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Take this' }).click()
  await expect(line).toContainText('100 pc')
  await expect(line).toContainText('20.00')
})

test('what is wanted is split over two suppliers, and each gets its order; later lines go on its draft', async ({
  page,
}) => {
  await enter(page, '/purchasing?tab=list')
  const line = row(page, 'Buying list', 'BU-CLIP')
  await line.getByText('more clips').click()
  await page.getByRole('region', { name: 'Tully Threads and Tools' }).getByLabel('Buy, pc').fill('28')
  const arden = page.getByRole('region', { name: 'Arden Paper Mill' })
  await arden.getByLabel('Buy, pc').fill('60')
  await arden.getByLabel('Buy, pc').press('Tab')
  await expect(arden).toContainText('18.00')
  await page.getByRole('button', { name: 'Take this' }).click()
  await expect(line).toContainText('28 pc and 60 pc')
  await line.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Order 1' }).click()
  await expect(dialog(page).getByRole('region', { name: 'Tully Threads and Tools' })).toContainText('7.00')
  await expect(dialog(page).getByRole('region', { name: 'Arden Paper Mill' })).toContainText('18.00')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Write 2 orders' }).click()
  await expect(notice(page, /^PO-\d+, PO-\d+ are ready to be sent\.$/)).toBeVisible()
  await expect(line).toHaveCount(0)
})

test('an order that is worth too little is told so, and topped up', async ({ page }) => {
  await enter(page, '/')
  const { suppliers } = await references(page)
  const tully = suppliers.find(({ code }) => code === 'TULLY')!.id
  const open = (await (await page.request.get(`/api/purchasing/orders?supplierId=${tully}&status=draft`)).json()) as {
    rows: { id: number; number: string }[]
  }
  const draft = open.rows[0]!
  await api(page, 'purchasing/buying/wants', {
    key: crypto.randomUUID(),
    itemId: clip,
    quantity: '8',
    unit: 'piece',
    neededOn: '2026-10-30',
    siteId: null,
    note: 'some more',
    salesLineId: null,
  })
  await page.goto(`/purchasing/${draft.id}`)
  await page.getByRole('button', { name: 'More' }).click()
  await page.getByRole('menuitem', { name: 'Top up' }).click()
  await expect(page.locator('[data-test=topping]')).toContainText(`for ${draft.number}`)
  await row(page, 'Buying list', 'BU-CLIP').getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Order 1' }).click()
  await expect(dialog(page)).toContainText(`on ${draft.number}`)
  await dialog(page).getByRole('button', { name: 'Write 1 order' }).click()
  await expect(page).toHaveURL(new RegExp(`/purchasing/${draft.id}$`))
  await expect(
    page.getByRole('table', { name: 'Order lines' }).getByRole('row').filter({ hasText: 'BU-CLIP' }),
  ).toHaveCount(2)
})

/*
 * Six are sold at 6.50. Tully sells eight at 0.25, 2.00; Arden six at 0.30, 1.80: 6.20 of 6.50 are left, 95 %. Ten
 * arrive: six are allocated, four are free.
 */
test('bought for a customer’s order: the link stays, the margin is told, what arrives is allocated to it', async ({
  page,
}) => {
  await enter(page, '/')
  const itemId = await makeItem(page, 'BU-FOR', { source: 'bought', terms: await terms(page) })
  const sales = await orderOf(page, itemId, '6', '2026-11-10')
  await page.goto(`/demand/orders/${sales}`)
  await page.getByRole('button', { name: 'Buy it for this order' }).click()
  await dialog(page).getByRole('button', { name: 'Put it on the buying list' }).click()
  await expect(page.getByRole('link', { name: 'buying list' })).toBeVisible()
  await page.getByRole('link', { name: 'buying list' }).click()
  const line = row(page, 'Buying list', 'BU-FOR')
  await line.getByRole('checkbox').check()
  await page.getByRole('button', { name: 'Order 1' }).click()
  await dialog(page).getByLabel('Add to the drafts that are there').uncheck()
  await dialog(page).getByRole('button', { name: 'Write 1 order' }).click()
  await expect(page.locator('[data-test=for-order]')).toContainText('sells at €6.50, margin 95 %')
  const id = Number(page.url().split('/').at(-1))
  const bought = (await (await page.request.get(`/api/purchasing/orders/${id}`)).json()) as {
    number: string
    version: number
    lines: { id: number }[]
  }
  order = { id, number: bought.number }
  await page.goto(`/demand/orders/${sales}`)
  await expect(page.getByRole('table', { name: 'Order lines' })).toContainText(`${order.number} brings it on`)
  const { bins } = await references(page)
  await api(page, `purchasing/orders/${id}/receive`, {
    key: crypto.randomUUID(),
    version: bought.version,
    packingList: '',
    lines: [
      {
        lineId: bought.lines[0]!.id,
        quantity: '10',
        unit: 'piece',
        binId: bins.find((bin) => bin.code === 'SHELF-A')!.id,
        lot: '',
        reason: 'a full box',
      },
    ],
  })
  await page.reload()
  await expect(row(page, 'Order lines', 'BU-FOR')).toContainText(/6\s*pc.*4\s*pc/)
})
