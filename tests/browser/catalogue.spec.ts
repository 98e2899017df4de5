import { expect, test, type Page } from '@playwright/test'
import { dialog, enter, notice, row, scan, choose, expectChosen } from './helpers'

const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: /Saved/ })).toBeVisible()
/** Types into a field and leaves it, which saves. */
async function type(page: Page, label: string, text: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(text)
  await page.getByLabel(label, { exact: true }).press('Tab')
}
const csv = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) })

test.describe('a company is set up', () => {
  test.use({ baseURL: process.env.TSUMIKI_EMPTY_URL })
  test.beforeEach(async ({ page }) => {
    expect(
      (
        await page.request.post('/api/company/sign-in', {
          data: { email: 'asa@press.example', password: 'letters-and-ink' },
        })
      ).ok(),
    ).toBe(true)
  })

  test('by hand: group, unit, supplier, place, item with packs, bridge and terms', async ({ page }) => {
    await page.goto('/catalogue/lists/groups')
    await page.getByRole('button', { name: 'New group' }).click()
    await page.getByLabel('Code', { exact: true }).fill('CLOTH')
    await page.getByLabel('Name', { exact: true }).fill('Cloth')
    await page.getByLabel('Numbering').fill('CLOTH-##')
    await choose(page.getByLabel('Stock unit'), 'metre')
    await page.getByLabel('Finest step').fill('0.01')
    await page.getByRole('button', { name: 'Add a trait' }).click()
    await page.getByLabel('Name, line 1').fill('dye lot')
    await page.getByRole('button', { name: 'Add the group' }).click()
    await expect(row(page, 'Groups', 'CLOTH')).toBeVisible()

    await page.getByRole('link', { name: 'Units' }).click()
    await page.getByRole('button', { name: 'New unit' }).click()
    for (const [label, text] of [
      ['Code', 'bolt'],
      ['Name', 'bolt'],
      ['Plural', 'bolts'],
      ['Symbol', 'bolt'],
    ] as const) {
      await page.getByLabel(label, { exact: true }).fill(text)
    }
    await page.getByRole('button', { name: 'Add the unit' }).click()
    await expect(row(page, 'Units', 'bolt')).toBeVisible()

    await page.getByRole('link', { name: 'Suppliers' }).click()
    await expect(page.getByText('No supplier yet')).toBeVisible()
    await page.getByRole('button', { name: 'New supplier' }).click()
    await page.getByLabel('Code', { exact: true }).fill('LOOM')
    await page.getByRole('button', { name: 'Add the supplier' }).click()
    await expect(page.getByText('Give a name.')).toBeVisible()
    await page.getByLabel('Name', { exact: true }).fill('Loom and Daughters')
    await page.getByRole('button', { name: 'Add the supplier' }).click()
    await expect(row(page, 'Suppliers', 'LOOM')).toBeVisible()

    await page.getByRole('link', { name: 'Bins' }).click()
    await page.getByRole('button', { name: 'New bin' }).click()
    await page.getByLabel('Code', { exact: true }).fill('RACK-1')
    await page.getByLabel('Name', { exact: true }).fill('Cloth rack')
    await choose(page.getByLabel('In the site'), 'Workshop')
    await page.getByRole('button', { name: 'Add the bin' }).click()
    await expect(row(page, 'Bins', 'RACK-1')).toBeVisible()

    await page.goto('/catalogue/new')
    await choose(page.getByLabel('Group', { exact: true }), 'Cloth')
    await expect(page.getByLabel('Code', { exact: true })).toHaveValue('CLOTH-01')
    await expectChosen(page.getByLabel('Stock unit'), 'metre (m)')
    await expect(page.getByText('from the group').first()).toBeVisible()
    await page.getByLabel('Name', { exact: true }).fill('Linen, 1.5 m wide')
    await choose(page.getByLabel('Buying unit'), 'square metre')
    await choose(page.getByLabel('Selling unit'), 'metre')
    await choose(page.getByLabel('Making unit'), 'metre')
    const relations = page.getByRole('table', { name: 'Packs and bridges' })
    await page.getByRole('button', { name: 'Add a pack or bridge' }).click()
    await choose(page.getByLabel('One, line 1', { exact: true }), 'metre')
    await page.getByLabel('holds, line 1', { exact: true }).fill('1.5')
    await choose(page.getByLabel('of, line 1', { exact: true }), 'square metre')
    await page.getByRole('button', { name: 'Add a pack or bridge' }).click()
    await choose(page.getByLabel('One, line 2', { exact: true }), 'bolt')
    await page.getByLabel('holds, line 2', { exact: true }).fill('40')
    await choose(page.getByLabel('of, line 2', { exact: true }), 'metre')
    await page.getByRole('button', { name: 'Add a pack or bridge' }).click()
    await choose(page.getByLabel('One, line 3', { exact: true }), 'bolt')
    await page.getByLabel('holds, line 3', { exact: true }).fill('61')
    await choose(page.getByLabel('of, line 3', { exact: true }), 'square metre')
    // 40 m of 1.5 m² each are 60 m², not 61.
    await expect(
      page.getByText(
        '1 bolt = 61 square metre contradicts the path bolt → metre → square metre, by which it is 60 square metre.',
      ),
    ).toBeVisible()
    await page.getByLabel('holds, line 3', { exact: true }).fill('60')
    await expect(page.getByText(/contradicts/)).toHaveCount(0)
    await page.getByRole('button', { name: 'Remove line 3 of Packs and bridges' }).click()
    await expect(relations.getByRole('row')).toHaveCount(3)
    await expect(page.getByRole('figure', { name: 'Unit ladder' })).toContainText('1 bolt40 m')
    await page.getByRole('button', { name: "Add a supplier's terms" }).click()
    await choose(page.getByLabel('Supplier, line 1'), 'Loom and Daughters')
    await choose(page.getByLabel('Ordered in, line 1'), 'bolt')
    await page.getByLabel('Unit price, line 1').fill('420')
    await page.getByLabel('Lead time (working days), line 1').fill('12')
    await page.getByRole('button', { name: 'Add a price tier' }).click()
    await page.getByLabel('From quantity, line 1').fill('5')
    await page.getByLabel('Tier price, line 1', { exact: true }).fill('395')
    await page.getByRole('button', { name: 'Add the item' }).click()
    await expect(page.getByRole('heading', { name: /CLOTH-01/ })).toBeVisible()
    await expect(page.getByRole('button', { name: /Units and packs/ })).toContainText('1 bolt = 40 m')
  })

  test('by files, with faults in them first', async ({ page }) => {
    await page.goto('/catalogue/files?table=suppliers')
    await page
      .getByLabel('File', { exact: true })
      .setInputFiles(
        csv('suppliers.csv', 'Code;Name;E-mail\nDYE;Dye House;hello@dye.example\nDYE;Twice;\nMILL;;no address\n'),
      )
    const list = page.getByRole('table', { name: 'Faults of the file' })
    await expect(list.getByRole('row')).toHaveCount(4)
    await expect(list).toContainText('DYE is in the file twice, first in line 2.')
    await expect(list.getByRole('row').filter({ hasText: 'E-mail' })).toContainText('Give an e-mail address.')
    await expect(page.getByRole('button', { name: /^Take in/ })).toBeDisabled()
    const [faultFile] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Save the list' }).click(),
    ])
    expect(faultFile.suggestedFilename()).toBe('faults of suppliers.csv.csv')
    await page.getByRole('button', { name: 'Cancel' }).click()

    await choose(page.getByLabel('Table'), 'items')
    await page
      .getByLabel('File', { exact: true })
      .setInputFiles(
        csv(
          'stock.csv',
          'Article,Description,Family,Step\nLIN-1,Linen natural,CLOTH,0.01\nLIN-2,Linen bleached,CLOTH,0.01\n',
        ),
      )
    await choose(page.getByLabel('code (needed)'), 'Article')
    await choose(page.getByLabel('name (needed)'), 'Description')
    await choose(page.getByLabel('group (needed)'), 'Family')
    await expect(page.getByText('2 would be added, 0 changed')).toBeVisible()
    await page.getByRole('button', { name: 'Take in 2 items' }).click()
    await expect(notice(page, 'stock.csv: 2 added, 0 changed.')).toBeVisible()
    await page.goto('/catalogue')
    await expect(row(page, 'Items', 'LIN-2')).toContainText('Cloth')
    await page.goto('/catalogue/files')
    await page.getByRole('listitem').filter({ hasText: 'stock.csv' }).getByRole('button', { name: 'Undo' }).click()
    await expect(notice(page, 'Undone: everything is as it was.')).toBeVisible()
    await page.goto('/catalogue')
    await expect(row(page, 'Items', 'CLOTH-01')).toBeVisible()
    await expect(row(page, 'Items', 'LIN-2')).toHaveCount(0)
  })
})

test('an item saves as one goes; a fault stands beside its field and nothing else is lost; the change is undone', async ({
  page,
}) => {
  await enter(page, '/catalogue?search=BRUSH-40')
  await row(page, 'Items', 'BRUSH-40').click()
  await expect(page.getByRole('heading', { name: /BRUSH-40/ })).toBeVisible()
  await page.keyboard.press('m')
  await type(page, 'Safety stock', '2*3')
  await expect(page.getByLabel('Safety stock', { exact: true })).toHaveValue('6')
  await saved(page)
  await type(page, 'Maximum', '4')
  await expect(
    page.getByText(
      'The maximum of 4 lies below the safety stock of 6. From low to high they are: safety stock, reorder point, target, maximum.',
    ),
  ).toBeVisible()
  await expect(page.getByText('Not saved yet')).toBeVisible()
  await type(page, 'Maximum', '40')
  await saved(page)
  await page.getByRole('tab', { name: 'Changes' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'maximum stock' })).toContainText('nothing → 40')
  await page.getByRole('listitem').filter({ hasText: 'safety stock' }).getByRole('button', { name: 'Undo' }).click()
  await expect(notice(page, 'Undone: safety stock.')).toBeVisible()
  await expect(page.getByLabel('Safety stock', { exact: true })).toHaveValue('0')
  await page.reload()
  await expect(page.getByRole('button', { name: /Stock marks/ })).toBeVisible()
})

test('lines are pasted from a spreadsheet; what a group says is followed again', async ({ page }) => {
  await enter(page, '/catalogue?search=SQUARE')
  await row(page, 'Items', 'SQUARE').click()
  await expect(page.getByRole('heading', { name: /SQUARE/ })).toBeVisible()
  await page.keyboard.press('u')
  await expect(page.getByText('from the group').first()).toBeVisible()
  await page.getByLabel('Finest step').fill('0.5')
  await page.getByLabel('Finest step').press('Tab')
  await expect(page.getByText('own; the group says 1')).toBeVisible()
  await page.getByRole('button', { name: 'take that' }).click()
  await expect(page.getByLabel('Finest step')).toHaveValue('1')
  await page.getByRole('button', { name: 'Add a pack or bridge' }).click()
  await page.getByLabel('One, line 1', { exact: true }).evaluate((cell) => {
    const data = new DataTransfer()
    data.setData('text/plain', 'pack\t5\tpiece\ncarton\t8\tpack\n')
    cell.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }))
  })
  await expect(page.getByLabel('holds, line 2', { exact: true })).toHaveValue('8')
  await expect(page.getByRole('figure', { name: 'Unit ladder' }).first()).toContainText('1 carton40 pc')
  await saved(page)
})

test('many items are set at once, looked at first, and taken back', async ({ page }) => {
  await enter(page, '/catalogue')
  await page.getByLabel('Filter by name or code').fill('ribbon marker')
  await expect(row(page, 'Items', 'RIBBON-GOLD')).toBeVisible()
  await expect(row(page, 'Items', 'AWL')).toHaveCount(0)
  await page.getByLabel('Choose all').check()
  await page.getByRole('button', { name: 'Set a field of 3' }).click()
  await choose(dialog(page).getByLabel('Field'), 'reorder point')
  await dialog(page).getByLabel('New value').fill('25')
  await expect(dialog(page).getByRole('table', { name: 'What will change' })).toContainText('nothing → 25')
  await dialog(page).getByRole('button', { name: 'Set it on 3 items' }).click()
  await expect(notice(page, 'reorder point is set on 3 items.')).toBeVisible()
  await page.locator('[aria-live=polite]').getByRole('button', { name: 'Undo' }).click()
  await expect(notice(page, 'Undone: everything is as it was.')).toBeVisible()
})

test('a carton’s barcode finds the item and the unit, anywhere; labels are printed', async ({ page }) => {
  await enter(page, '/catalogue?search=NB-A5-NAVY')
  const carton = (await (await page.request.get('/api/catalogue/tables/item-codes')).text())
    .split('\n')
    .find((line) => line.startsWith('NB-A5-NAVY,1'))!
    .split(',')[1]!
  await expect(row(page, 'Items', 'NB-A5-NAVY')).toBeVisible()
  await page.locator('main').click({ position: { x: 5, y: 5 } })
  await scan(page, carton)
  await expect(page.getByRole('article')).toContainText('NB-A5-NAVY')
  await expect(notice(page, /carton/)).toBeVisible()
  await page.keyboard.press('Escape')
  await row(page, 'Items', 'NB-A5-NAVY').click()
  await page.getByRole('button', { name: 'Labels', exact: true }).click()
  await choose(dialog(page).getByLabel('Barcode'), 'GS1 DataMatrix')
  await choose(dialog(page).getByLabel('For one'), 'carton')
  await dialog(page).getByRole('button', { name: 'Make 1 label' }).click()
  await expect(dialog(page).getByRole('link', { name: 'Open the labels (PDF)' })).toBeVisible()
})

test('a duplicate takes over all but what names the item; a picture is put on it', async ({ page }) => {
  await enter(page, '/catalogue?search=BONE')
  await row(page, 'Items', 'Bone folder').click()
  await page.getByRole('button', { name: 'Duplicate' }).click()
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Bone folder (copy)')
  await expect(page.getByRole('table', { name: "Suppliers' terms" }).getByRole('row')).not.toHaveCount(0)
  await page.getByLabel('Code', { exact: true }).fill('BONE-LONG')
  await page.getByLabel('Name', { exact: true }).fill('Bone folder, long')
  await page.getByRole('button', { name: 'Add the item' }).click()
  await expect(page.getByRole('heading', { name: /BONE-LONG/ })).toBeVisible()
  await expect(page.getByRole('button', { name: /Codes and labels/ })).toContainText('its own code only')
  await page.getByRole('button', { name: /Texts and picture/ }).click()
  await page.getByRole('button', { name: 'Take it off' }).click()
  await saved(page)
  await page
    .getByLabel('Choose a picture')
    .setInputFiles({ name: 'no.png', mimeType: 'image/png', buffer: Buffer.from('not a picture') })
  await expect(page.getByText('This is no picture that can be read. Choose a PNG, JPEG or WebP file.')).toBeVisible()
  await page.getByLabel('Choose a picture').setInputFiles('demo/pictures/BONE.jpg')
  await expect(page.getByRole('img', { name: 'Picture of the item' })).toBeVisible()
  await saved(page)
  await page.getByRole('tab', { name: 'Changes' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'picture' }).first()).toBeVisible()
})

test('a supplier is changed where it is listed; an address is added to a customer; the view is kept', async ({
  page,
}) => {
  await enter(page, '/catalogue/lists/suppliers')
  await row(page, 'Suppliers', 'GLINT').click()
  await expectChosen(page.getByLabel('Paid in'), /\w+/)
  await type(page, 'Telephone', '+00 555 0999')
  await saved(page)
  await page.getByText('Changes', { exact: true }).click()
  await expect(page.getByRole('listitem').filter({ hasText: '+00 555 0999' })).toContainText(
    '+00 555 0106 → +00 555 0999',
  )
  await page.getByLabel('E-mail for orders').fill('nobody')
  await row(page, 'Suppliers', 'PELL').click()
  await expect(notice(page, 'Not saved: Give an e-mail address.')).toBeVisible()
  await page.getByRole('link', { name: 'Customers' }).click()
  await row(page, 'Customers', 'MUSE').click()
  await page.getByRole('button', { name: 'Add an address' }).click()
  await page.getByLabel('Name, line 1').fill('Depot')
  await page.getByLabel('Address, line 1').fill('Tower Lane 9, Orrin')
  await page.getByLabel('Address, line 1').press('Tab')
  await saved(page)
  await page.goto('/catalogue')
  await page.getByRole('button', { name: 'Columns' }).click()
  await page.getByLabel('Supplier', { exact: true }).check()
  await page.getByLabel('Wanted', { exact: true }).uncheck()
  await page.reload()
  await expect(page.getByRole('columnheader', { name: 'Supplier' })).toBeVisible()
  await expect(page.getByRole('columnheader', { name: 'Wanted' })).toHaveCount(0)
})

test('a buyer looks after suppliers, not after customers; a viewer changes neither', async ({ page }) => {
  for (const [person, suppliers, customers] of [
    ['petra', 1, 0],
    ['milo', 1, 1],
    ['guest', 0, 0],
  ] as const) {
    expect(
      (
        await page.request.post('/api/company/sign-in', {
          data: { email: `${person}@hollowmere.example`, password: 'boards-and-thread' },
        })
      ).ok(),
    ).toBe(true)
    await page.goto('/catalogue/lists/suppliers')
    await expect(page.getByRole('heading', { name: 'Suppliers' })).toBeVisible()
    await expect(page.getByRole('button', { name: 'New supplier' })).toHaveCount(suppliers)
    await page.goto('/catalogue/lists/customers')
    await expect(page.getByRole('heading', { name: 'Customers' })).toBeVisible()
    await expect(page.getByRole('button', { name: 'New customer' })).toHaveCount(customers)
    const answer = await page.request.post('/api/catalogue/definitions/customers', {
      data: { code: `BY-${person}`, name: 'By hand' },
    })
    expect(answer.ok()).toBe(customers === 1)
    if (!answer.ok()) {
      expect(((await answer.json()) as { detail: string }).detail).toContain(
        person === 'guest' ? 'You are signed in as viewer.' : 'To change a customer takes one of: owner, planner.',
      )
    }
  }
})

test('the list scrolls through any number without a gap', async ({ page }) => {
  await enter(page, '/catalogue')
  const lines = Array.from({ length: 1500 }, (_, i) => `LONG-${String(i).padStart(4, '0')},Long list ${i},TOOLS`).join(
    '\n',
  )
  const preview = (await (
    await page.request.post('/api/catalogue/batches', {
      data: {
        table: 'items',
        fileName: 'long.csv',
        content: Buffer.from(`code,name,group\n${lines}\n`).toString('base64'),
      },
    })
  ).json()) as { id: number; made: number }
  expect(preview.made).toBe(1500)
  expect((await page.request.post(`/api/catalogue/batches/${preview.id}/apply`)).ok()).toBe(true)
  await page.goto('/catalogue?search=LONG-')
  await expect(row(page, 'Items', 'LONG-0000')).toBeVisible()
  const box = page.getByRole('table', { name: 'Items' }).locator('xpath=..')
  for (const [share, code] of [
    [0.5, /LONG-0[67]\d\d/],
    [1, /LONG-1499/],
    [0, /LONG-0000/],
  ] as const) {
    await box.evaluate((element, part) => {
      element.scrollTop = (element.scrollHeight - element.clientHeight) * part
    }, share)
    await expect(page.getByRole('table', { name: 'Items' }).getByText(code).first()).toBeVisible()
    await expect(page.locator('tbody tr[data-index] span.bg-wash.w-1\\/2')).toHaveCount(0)
  }
  expect((await page.request.post(`/api/catalogue/batches/${preview.id}/undo`)).ok()).toBe(true)
})

test('closed days are filled in from public holidays, and turned on the year’s sheet', async ({ page }) => {
  await enter(page, '/catalogue/lists/calendars')
  await row(page, 'Calendars', 'Arden mill').click()
  await choose(page.getByLabel('Public holidays of'), 'Germany')
  await page.getByRole('button', { name: 'Fill in' }).click()
  await expect(notice(page, '9 closed days filled in from the public holidays of 2026.')).toBeVisible()
  await saved(page)
  await page.getByRole('button', { name: /^2 Nov 2026/ }).click()
  await expect(page.getByRole('button', { name: /^2 Nov 2026/ })).toHaveAttribute('aria-pressed', 'true')
  await saved(page)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('button', { name: /^2 Nov 2026/ })).toHaveAttribute('aria-pressed', 'false')
  await page.getByRole('button', { name: 'Take this calendar away' }).click()
  await page.getByRole('button', { name: 'Take Arden mill away' }).click()
  await expect(page.getByText(/Arden mill is used by suppliers, so it stays/)).toBeVisible()
})

test('an order takes its prices from the rules, and says which', async ({ page }) => {
  await enter(page, '/demand/orders/new')
  await choose(page.getByLabel('Customer', { exact: true }), 'Larkhill Books')
  await page.getByRole('combobox', { name: 'Item', exact: true }).fill('NB-A5-NAVY')
  await page.getByRole('option').filter({ hasText: 'NB-A5-NAVY' }).first().click()
  await page.getByLabel('Quantity', { exact: true }).fill('6')
  await expect(page.getByLabel('Unit price')).toHaveValue('21.00')
  await expect(page.getByText('by the price list')).toBeVisible()
  await page.getByLabel('Quantity', { exact: true }).fill('24')
  await expect(page.getByLabel('Unit price')).toHaveValue('20.50')
  await page.getByLabel('Unit price').fill('15')
  await expect(page.getByText('typed; the rules say 20.50')).toBeVisible()
  await page.getByLabel('Due on').fill('2026-11-20')
  await page.getByRole('button', { name: 'Enter the order' }).click()
  await expect(dialog(page)).toContainText('NB-A5-NAVY has a lowest price of 18.00 for one piece; this is 15.')
  await dialog(page).getByRole('button', { name: 'Cancel' }).click()
  await expect(page.getByLabel('Unit price')).toHaveValue('15')
})
