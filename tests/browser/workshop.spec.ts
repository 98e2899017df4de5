import { randomUUID } from 'node:crypto'
import { expect, test, type Page } from '@playwright/test'
import { chooseItem, dialog, enter, faults, notice, row, choose } from './helpers'
import { api, itemNamed, orderOf } from './own-goods'

/*
 * Every figure below is worked out here by hand:
 *
 * build    12 books take 12 boards and 144 g of glue; 8 boards at 1.00 are there, so 8 of board B at 1.50 stand in for
 * 4 (two for one).
 *          5 books: 4 boards 4.00, 4 of B and one spoiled 7.50, 100 g of glue (60 by the bill) at 10.00 a kg 1.00, 25
 *          min at 12.00 5.00 = 17.50
 *          7 books: 4 boards 4.00, 4 of B 6.00, 84 g 0.84, 35 min 7.00 = 17.84; together 35.34
 *          bill: 8.00 + 12.00 + 1.44 + 12.00 = 33.44; more used: one of B 1.50, 40 g 0.40 kit      3 kits take 6 awls
 *          at 1.00 and 3 tins at 0.50: 7.50; 2 unpacked give 4 awls, one of them damaged, and 2 tins drum     50 kg
 *          come; each 20 kg give 19: 38 kg in jars, 10 kg left, lot K-9 cut      rolls of 10 m (lot DYE-1), 6 m and 7 m
 *          (DYE-2); 2 × 2.5 m, 3 m and 2.6 m for one job: only DYE-2's 13 m or DYE-1's 10 m are one
 *          lot; 10.6 m do not come out of 10, so 6 m and 7 m: 5.6 of 6 (0.4 lost) and 5.0 of 7 (2 stay), or better 2.5
 *          + 2.5 = 5 and 3 + 2.6 = 5.6
 */
const references = async (page: Page) =>
  (await (await page.request.get('/api/catalogue/references')).json()) as {
    groups: { id: number; code: string }[]
    bins: { id: number; code: string }[]
    suppliers: { id: number }[]
  }
const binOf = async (page: Page, code: string): Promise<number> =>
  (await references(page)).bins.find((bin) => bin.code === code)!.id
const item = async (page: Page, code: string, more: object = {}): Promise<number> =>
  (
    await api(page, 'catalogue/items', {
      code,
      name: `${code} to test with`,
      groupId: (await references(page)).groups.find((group) => group.code === 'CLOTH')!.id,
      stockUnit: 'piece',
      buyingUnit: 'piece',
      sellingUnit: 'piece',
      finestStep: '1',
      ...more,
    })
  ).id
const opening = async (
  page: Page,
  itemId: number,
  quantity: string,
  unitCost: string,
  more: object = {},
): Promise<unknown> =>
  api(page, 'stock/corrections', {
    key: randomUUID(),
    itemId,
    binId: await binOf(page, 'SHELF-A'),
    lot: '',
    direction: 'more',
    quantity,
    unit: 'piece',
    reason: 'opening stock',
    unitCost,
    ...more,
  })
const define = (page: Page, kind: string, definition: object) => api(page, `catalogue/definitions/${kind}`, definition)
const liquid = { stockUnit: 'kg', buyingUnit: 'kg', sellingUnit: 'kg', finestStep: '0.001' }
const onShelf = async (page: Page, code: string): Promise<string> =>
  (
    (await (await page.request.get(`/api/stock/balances?search=${code}&size=200`)).json()) as {
      rows: {
        code: string
        lot: string | null
        expiresOn: string | null
        onHand: string
        symbol: string
        status: string
      }[]
    }
  ).rows
    .filter((row) => row.code === code)
    .map((row) => [row.lot, row.expiresOn, `${Number(row.onHand)} ${row.symbol}`, row.status].filter(Boolean).join(' '))
    .sort()
    .join(' | ')

test('a build in two parts: a substitute, more glue than the bill, a board spoiled; its cost against the bill; all of it undone', async ({
  page,
}) => {
  await enter(page, '/workshop')
  const [board, boardB, glue, book] = [
    await item(page, 'TW-BOARD'),
    await item(page, 'TW-BOARD-B'),
    await item(page, 'TW-GLUE', { ...liquid, tracking: 'lot' }),
    await item(page, 'TW-BOOK', { source: 'made', tracking: 'lot' }),
  ]
  await define(page, 'bills', {
    itemId: book,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    minutesPerUnit: '5',
    workRate: '12',
    lines: [
      { itemId: board, quantity: '1', unit: 'piece', substitutes: [{ itemId: boardB, per: '2', rank: 1 }] },
      { itemId: glue, quantity: '12', unit: 'g' },
    ],
  })
  await opening(page, board, '8', '1.00')
  await opening(page, boardB, '20', '1.50')
  await opening(page, glue, '1', '10.00', { unit: 'kg', lot: 'G-1', expiresOn: '2027-01-31' })

  await page.getByRole('button', { name: 'Plan a build' }).click()
  await chooseItem(dialog(page), 'Item', 'TW-BOOK')
  await dialog(page).getByLabel('Quantity', { exact: true }).fill('1 dozen')
  await dialog(page).getByRole('button', { name: 'Plan the build' }).click()
  const components = page.getByRole('table', { name: 'Components' }).first()
  await expect(components.getByRole('row').filter({ hasText: 'TW-GLUE' })).toContainText(/0\.144\s*kg\s*144\s*g/)
  await expect(components.getByText('4 pc missing')).toBeVisible()
  await page.getByRole('button', { name: 'Use 8 pc TW-BOARD-B instead' }).click()
  await expect(dialog(page)).toContainText('it covers 4 pc TW-BOARD')
  await dialog(page).getByRole('button', { name: 'Use 8 pc instead' }).click()
  await expect(components.getByRole('row').filter({ hasText: 'TW-BOARD-B' })).toContainText('instead of TW-BOARD')
  await expect(components.getByText('missing')).toHaveCount(0)
  await page.getByRole('button', { name: 'Allocate components' }).click()
  await expect(page.getByRole('list', { name: 'State: ready' })).toBeVisible()
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Start', exact: true }).click()
  await expect(page.getByRole('list', { name: 'State: started' })).toBeVisible()

  await page.getByRole('button', { name: 'Build 12', exact: true }).click()
  const open = dialog(page)
  await open.getByLabel('Came out good', { exact: true }).fill('5')
  await expect(open.getByRole('row').filter({ hasText: 'TW-BOARD TW' })).toContainText(/4\s*pcShelf A8 → 4/)
  await open.getByRole('button', { name: 'Other than the bill: TW-GLUE' }).click()
  await open.getByLabel('Used of TW-GLUE', { exact: true }).fill('100 g')
  await open.getByRole('button', { name: 'Spoiled: TW-BOARD-B' }).click()
  await open.getByLabel('Spoiled of TW-BOARD-B', { exact: true }).fill('1')
  await choose(open.getByLabel('Why TW-BOARD-B was spoiled'), 'cut wrong')
  expect(await faults(page)).toEqual([])
  await open.getByRole('button', { name: 'Build 5', exact: true }).click()
  await expect(notice(page, /Build 5 TW-BOOK recorded as lot .*worth €17\.50/)).toBeVisible()
  await expect(page.locator('[data-test=made]')).toHaveText('5')
  await expect(components.getByRole('row').filter({ hasText: 'TW-BOARD-B' })).toContainText('of it spoiled 1')

  await page.getByRole('button', { name: 'Build 7', exact: true }).click()
  await open.getByRole('button', { name: 'Build 7', exact: true }).click()
  await expect(notice(page, /worth €17\.84/)).toBeVisible()
  await expect(page.getByRole('list', { name: 'State: done' })).toBeVisible()
  for (const [what, amount] of [
    ['bill', '€33.44'],
    ['usage', '+€1.90'],
    ['price', ''],
    ['yield', ''],
    ['actual', '€35.34'],
  ] as const) {
    await expect(page.locator(`[data-test=cost-${what}]`)).toHaveText(amount)
  }
  const url = page.url()
  expect(await onShelf(page, 'TW-BOARD-B')).toBe('11 pc available')
  expect(await onShelf(page, 'TW-GLUE')).toBe('G-1 2027-01-31 0.816 kg available')

  await page.goto(url)
  await page.getByRole('button', { name: 'Reverse all of it' }).click()
  await expect(notice(page, /2 acts taken back; stock, lots and cost are as they were/)).toBeVisible()
  await expect(page.getByRole('list', { name: 'State: draft' })).toBeVisible()
  expect([await onShelf(page, 'TW-BOARD-B'), await onShelf(page, 'TW-GLUE')]).toEqual([
    '20 pc available',
    'G-1 2027-01-31 1 kg available',
  ])
})

test('a second device that builds from the same goods is told, and nothing goes below zero', async ({
  page,
  browser,
}) => {
  await enter(page, '/workshop')
  const [leaf, card] = [await item(page, 'TD-LEAF'), await item(page, 'TD-CARD', { source: 'made' })]
  await define(page, 'bills', {
    itemId: card,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    lines: [{ itemId: leaf, quantity: '1', unit: 'piece' }],
  })
  await opening(page, leaf, '5', '1.00')
  const [entry, two] = [
    await api(page, 'workshop/builds', {
      key: randomUUID(),
      itemId: card,
      quantity: '4',
      unit: 'piece',
      dueOn: '2026-10-08',
    }),
    await api(page, 'workshop/builds', {
      key: randomUUID(),
      itemId: card,
      quantity: '4',
      unit: 'piece',
      dueOn: '2026-10-08',
    }),
  ]
  const secondPage = await (await browser.newContext()).newPage()
  await enter(secondPage, `/workshop/builds/${two.id}`)
  await page.goto(`/workshop/builds/${entry.id}`)
  for (const index of [page, secondPage]) {
    await index.getByRole('button', { name: 'Build 4', exact: true }).click()
  }
  await dialog(page).getByRole('button', { name: 'Build 4', exact: true }).click()
  await expect(notice(page, /Build 4 TD-CARD recorded/)).toBeVisible()
  await dialog(secondPage).getByRole('button', { name: 'Build 4', exact: true }).click()
  await expect(dialog(secondPage).getByRole('alert')).toContainText(
    'TD-LEAF TD-LEAF to test with: 4 pc needed, 1 pc free; 3 pc missing.',
  )
  await secondPage.context().close()
  expect(await onShelf(page, 'TD-LEAF')).toBe('1 pc available')
})

test('at the bench: a scan picks, the watch runs, and what is recorded while the connection is cut counts once', async ({
  page,
  context,
}) => {
  await page.setViewportSize({ width: 1024, height: 768 })
  await enter(page, '/workshop')
  const [wax, seal] = [
    await item(page, 'TB-WAX', { ...liquid, tracking: 'lot' }),
    await item(page, 'TB-SEAL', { source: 'made' }),
  ]
  await define(page, 'bills', {
    itemId: seal,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    lines: [{ itemId: wax, quantity: '20', unit: 'g' }],
    steps: [{ text: 'Melt the wax slowly.' }, { text: 'Press the seal and wait.' }],
  })
  await opening(page, wax, '1', '8.00', { unit: 'kg', lot: 'WAX-OLD', expiresOn: '2026-12-01' })
  await opening(page, wax, '1', '8.00', { unit: 'kg', lot: 'WAX-NEW', expiresOn: '2027-12-01' })
  const build = await api(page, 'workshop/builds', {
    key: randomUUID(),
    itemId: seal,
    quantity: '10',
    unit: 'piece',
    dueOn: '2026-10-08',
  })
  await page.goto(`/workshop/bench/${build.id}`)
  await expect(page.getByLabel('Scan to pick')).toBeFocused()
  await page.keyboard.type('WAX-NEW')
  await page.keyboard.press('Enter')
  await expect(page.getByText('TB-WAX, lot WAX-NEW, Shelf A: picked.')).toBeVisible()
  await page.keyboard.type('NOTHING-KNOWN')
  await page.keyboard.press('Enter')
  await expect(page.getByText('“NOTHING-KNOWN” is nothing that this job takes.')).toBeVisible()
  await page.getByRole('button', { name: 'Step 1 is done' }).click()
  await page.getByRole('button', { name: 'Start the watch' }).click()
  expect(await faults(page)).toEqual([])

  await context.setOffline(true)
  for (const n of [3, 2]) {
    await page.getByLabel('Made now').fill(String(n))
    await page.getByRole('button', { name: `Record ${n}` }).click()
    await dialog(page)
      .getByRole('button', { name: `Record ${n}` })
      .click()
  }
  await expect(page.getByText('No connection. Go on working; 2 acts wait.')).toBeVisible()
  await expect(page.locator('[data-test=bench-made]')).toHaveText('5')
  await context.setOffline(false)
  await expect(page.getByText('No connection')).toBeHidden()
  await expect(notice(page, /2 pc TB-SEAL recorded/)).toBeVisible()
  await expect(page.locator('[data-test=bench-made]')).toHaveText('5')
  const { made, components } = (await (await page.request.get(`/api/workshop/builds/${build.id}`)).json()) as {
    made: string
    components: { used: string }[]
  }
  expect([made, components[0]!.used]).toEqual(['5', '0.1'])
  expect(await onShelf(page, 'TB-WAX')).toBe('WAX-NEW 2027-12-01 0.9 kg available | WAX-OLD 2026-12-01 1 kg available')
})

test('kits are packed ahead, and unpacked again with a damaged part kept apart', async ({ page }) => {
  await enter(page, '/workshop')
  const [awl, tin, kit] = [
    await item(page, 'TK-AWL'),
    await item(page, 'TK-TIN'),
    await item(page, 'TK-KIT', { source: 'kit', kitPolicy: 'sealed' }),
  ]
  await define(page, 'bills', {
    itemId: kit,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    lines: [
      { itemId: awl, quantity: '2', unit: 'piece' },
      { itemId: tin, quantity: '1', unit: 'piece' },
    ],
  })
  await opening(page, awl, '10', '1.00')
  await opening(page, tin, '10', '0.50')
  await page.goto('/workshop')
  await page.getByRole('button', { name: 'Plan a build' }).click()
  await chooseItem(dialog(page), 'Item', 'TK-KIT')
  await dialog(page).getByLabel('Quantity', { exact: true }).fill('3')
  await dialog(page).getByRole('button', { name: 'Plan the build' }).click()
  await page.getByRole('button', { name: 'Pack 3', exact: true }).click()
  await choose(dialog(page).getByLabel('Into'), 'Shelf A')
  await dialog(page).getByRole('button', { name: 'Pack 3', exact: true }).click()
  await expect(notice(page, /Pack 3 TK-KIT recorded, worth €7\.50/)).toBeVisible()
  await page.goto('/workshop')
  await page.getByRole('button', { name: 'Unpack a kit' }).click()
  await chooseItem(dialog(page), 'Kit', 'TK-KIT')
  await dialog(page).getByLabel('How many', { exact: true }).fill('2')
  await choose(dialog(page).getByLabel('Parts into'), 'Shelf A')
  await expect(dialog(page).getByRole('row').filter({ hasText: 'TK-AWL' })).toContainText(/4\s*pc/)
  await dialog(page).getByLabel('Damaged of TK-AWL, in pc').fill('1')
  expect(await faults(page)).toEqual([])
  await dialog(page).getByRole('button', { name: 'Unpack 2 pc' }).click()
  await expect(notice(page, /2 pc TK-KIT unpacked: 4 TK-AWL \(1 damaged\), 2 TK-TIN/)).toBeVisible()
  expect(await onShelf(page, 'TK-AWL')).toBe('1 pc damaged | 7 pc available')
  expect(await onShelf(page, 'TK-KIT')).toBe('1 pc available')
})

test('a drum is broken down as it arrives, with its lot and expiry', async ({ page }) => {
  await enter(page, '/purchasing')
  const [keg, jar] = [
    await item(page, 'TA-KEG', { ...liquid, tracking: 'lot' }),
    await item(page, 'TA-JAR', { ...liquid, tracking: 'lot', source: 'broken down' }),
  ]
  await define(page, 'break-downs', {
    itemId: keg,
    take: '20',
    unit: 'kg',
    onArrival: true,
    outputs: [{ itemId: jar, quantity: '19', unit: 'kg' }],
  })
  const order = await api(page, 'purchasing/orders', {
    key: randomUUID(),
    supplierId: (await references(page)).suppliers[0]!.id,
    note: '',
    lines: [{ itemId: keg, quantity: '50', unit: 'kg', price: '3.00', dueOn: '2026-10-05' }],
  })
  await page.goto(`/purchasing/${order.id}`)
  await page.getByRole('button', { name: 'Receive goods' }).click()
  await dialog(page).getByRole('button', { name: 'all of it' }).click()
  await dialog(page).getByLabel('Lot of TA-KEG').fill('K-9')
  await dialog(page)
    .getByLabel(/^Expires/)
    .fill('2027-08-01')
  await dialog(page)
    .getByRole('button', { name: /^Receive/ })
    .click()
  await expect(notice(page, /40 kg TA-KEG broken down on arrival as BD-\d+, lot K-9/)).toBeVisible()
  expect(await onShelf(page, 'TA-JAR')).toBe('K-9 2027-08-01 38 kg available')
  expect(await onShelf(page, 'TA-KEG')).toBe('K-9 2027-08-01 10 kg available')
})

test('what an order lacks is built for it, and the order says so', async ({ page }) => {
  await enter(page, '/demand')
  const [leaf, card] = [await item(page, 'TO-LEAF'), await item(page, 'TO-CARD', { source: 'made' })]
  await define(page, 'bills', {
    itemId: card,
    fromOn: '2026-01-01',
    batchUnit: 'piece',
    lines: [{ itemId: leaf, quantity: '1', unit: 'piece' }],
  })
  const order = await api<{ id: number; number: string }>(page, 'demand/orders', {
    key: randomUUID(),
    customerId: 1,
    dueOn: '2026-10-08',
    note: '',
    lines: [{ itemId: card, quantity: '4', unit: 'piece', price: '2.00' }],
  })
  await page.goto(`/demand/orders/${order.id}`)
  await row(page, 'Order lines', 'TO-CARD').getByRole('button', { name: 'Build it' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Build 4 pc TO-CARD')
  await page.getByRole('link', { name: order.number }).click()
  await expect(row(page, 'Order lines', 'TO-CARD')).toContainText(/B-\d+ is to make it/)
  await expect(row(page, 'Order lines', 'TO-CARD').getByRole('button', { name: 'Build it' })).toHaveCount(0)
})

test('lengths for one job are cut from one dye lot; a cut is moved by hand, and the whole is accepted and undone', async ({
  page,
}) => {
  await enter(page, '/workshop/cutting')
  const cloth = await item(page, 'TC-CLOTH', {
    stockUnit: 'm',
    buyingUnit: 'm',
    sellingUnit: 'm',
    finestStep: '0.01',
    tracking: 'piece',
  })
  for (const [piece, quantity, lot] of [
    ['TC-1', '10', 'DYE-1'],
    ['TC-2', '6', 'DYE-2'],
    ['TC-3', '7', 'DYE-2'],
  ]) {
    await opening(page, cloth, quantity!, '5.00', { unit: 'm', piece, lot })
  }
  await page.getByRole('button', { name: 'Plan a cutting job' }).click()
  await chooseItem(dialog(page), 'Cut from pieces of', 'TC-CLOTH')
  await dialog(page).getByRole('button', { name: 'Plan it' }).click()
  await page.getByLabel('Job of length 1').fill('Album')
  await page.getByLabel('Length 1', { exact: true }).fill('250')
  await page.getByLabel('How many of length 1').fill('2')
  for (const [n, length] of [
    [2, '300'],
    [3, '260'],
  ] as const) {
    await page.getByRole('button', { name: 'Another length' }).click()
    await page.getByLabel(`Length ${n}`, { exact: true }).fill(length)
  }
  await page.getByLabel('Shortest usable offcut', { exact: true }).fill('1')
  await page.getByLabel('Each job from one lot').check()
  await page.getByRole('button', { name: 'Propose cuts' }).click()
  // 10.6 m come only out of DYE-2. 5.6 of the 6 m lose 0.4; 5 of the 6 m keep 1 m, and 5.6 of the 7 m keep 1.4: nothing
  // is lost.
  await expect(page.locator('[data-test=cut-sum]')).toContainText('10.6 m cut from 2 pieces')
  await expect(page.locator('[data-test=cut-lost]')).toHaveText('0 m')
  await expect(page.getByText('No way of cutting uses up less.')).toBeVisible()
  const bars = page.getByRole('list', { name: 'Pieces and what is cut from them' })
  await expect(bars.getByRole('listitem').filter({ hasText: 'TC-1' })).toContainText('10 m whole')
  expect(await faults(page)).toEqual([])
  // By hand: one of the 2.5 m to the roll of DYE-1 mixes the lots, and is said.
  await bars
    .getByRole('button', { name: /250 cm Album from TC-2/ })
    .first()
    .click()
  await bars.getByRole('button', { name: 'Put it on TC-1' }).click()
  await expect(page.getByRole('alert')).toContainText('Album would come from more than one lot.')
  await page.getByRole('button', { name: 'Propose cuts' }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
  await page.getByRole('button', { name: 'Cut 2 pieces' }).click()
  await expect(dialog(page)).toContainText(/TC-2: 6 → 1 m, 2 lengths/)
  await dialog(page).getByRole('button', { name: 'Cut 10.6 m' }).click()
  await expect(notice(page, '4 lengths cut from 2 pieces; 0 m lost.')).toBeVisible()
  await expect(page.getByText(/Album · lot DYE-2 · from TC-2/)).toHaveCount(2)
  const url = page.url()
  await page.goto('/stock?search=TC-2')
  await expect(row(page, 'Balances', 'TC-2').first()).toContainText(/1\s*m/)
  await page.goto(url)
  await page.getByRole('button', { name: 'Reverse all of it' }).click()
  await expect(bars.getByRole('listitem').filter({ hasText: 'TC-2' })).toContainText(/TC-2/)
})

test('on the board of days a job is given another day, after what that makes late is told', async ({ page }) => {
  await enter(page, '/workshop')
  // 96 are there, 52 are wanted before: for these 50 the 20 of the build are needed.
  await orderOf(page, await itemNamed(page, 'NB-POCKET'), '50', '2026-11-10')
  await page.goto('/workshop?tab=board')
  const board = page.getByRole('list', { name: 'Board of the workshop' })
  const dayOf = (name: string) => board.getByRole('listitem', { name })
  await expect(dayOf('Thu 8 Oct')).toContainText('of 8 h')
  const job = dayOf('Thu 8 Oct').getByRole('article').filter({ hasText: 'NB-POCKET' })
  await expect(job).toContainText('20 pc')
  expect(await faults(page)).toEqual([])

  // Dragged to Tuesday: nothing moves before it is said.
  await job.hover()
  await page.mouse.down()
  const target = (await dayOf('Tue 13 Oct').boundingBox())!
  await page.mouse.move(target.x + 40, target.y + 120, { steps: 12 })
  await page.mouse.move(target.x + 50, target.y + 200, { steps: 6 })
  await page.mouse.up()
  await expect(dialog(page).getByRole('button', { name: 'Move it to 13 Oct' })).toBeVisible()
  await expect(dialog(page)).toContainText('It is then begun on')
  await dialog(page).getByRole('button', { name: 'Cancel' }).click()
  await expect(job).toBeVisible()

  // By keys, to a day on which its components are missing or orders wait.
  await job.getByRole('button', { name: /another day$/ }).click()
  await dialog(page).getByLabel('To be done on').fill('2026-11-27')
  await expect(dialog(page)).toContainText('That makes late:')
  await expect(dialog(page)).toContainText('they are there on 27 Nov')
  await dialog(page).getByLabel('To be done on').fill('2026-10-01')
  await expect(dialog(page)).toContainText('This day is over. Choose today or later.')
  await dialog(page).getByLabel('To be done on').fill('2026-10-09')
  await expect(dialog(page)).toContainText('Nothing that is ordered is late because of it.')
  await dialog(page).getByRole('button', { name: 'Move it to 9 Oct' }).click()
  await expect(dayOf('Fri 9 Oct').getByRole('article').filter({ hasText: 'NB-POCKET' })).toBeVisible()
  await page.reload()
  await expect(dayOf('Fri 9 Oct').getByRole('article').filter({ hasText: 'NB-POCKET' })).toBeVisible()
})
