import { readdirSync } from 'node:fs'
import path from 'node:path'
import { expect, test, type APIRequestContext, type APIResponse } from '@playwright/test'
import { PASSWORD } from './helpers'

const ROOT = 'server/api'
const OPEN = [
  'health/live.get',
  'health/ready.get',
  'calendar/[token].get',
  'company/session.get',
  'company/sign-in.post',
  'company/sign-out.post',
  'company/first-owner.post',
  'company/forgotten.post',
  'company/password-link.post',
  'company/password-by-link.post',
]
/** What everybody may do with their own sign-in. */
const ANYBODY = ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer']
/** It needs nothing to be done at all. */
const NEEDS_NOTHING = [
  'company/me/sessions/index.delete',
  'company/me/calendar/index.post',
  'company/me/calendar/index.delete',
]

/**
 * Who may call each route that changes something, beside the owner: written out by hand, so that a right given by
 * mistake is seen.
 */
const MAY: Readonly<Record<string, readonly string[]>> = {
  'catalogue/definitions/[kind]/index.post': ['planner', 'buyer'],
  'catalogue/definitions/[kind]/[id]/index.put': ['planner', 'buyer'],
  'catalogue/definitions/[kind]/[id]/index.delete': ['planner', 'buyer'],
  'catalogue/changes/[id]/undo.post': ['planner', 'buyer'],
  'catalogue/batches/index.post': ['planner', 'buyer'],
  'catalogue/batches/[id]/preview.post': ['planner', 'buyer'],
  'catalogue/batches/[id]/apply.post': ['planner', 'buyer'],
  'catalogue/batches/[id]/undo.post': ['planner', 'buyer'],
  'catalogue/batches/[id]/stop.post': ['planner', 'buyer'],
  'catalogue/items/set.post': ['planner', 'buyer'],
  'catalogue/pictures/index.post': ['planner', 'buyer'],
  'catalogue/pictures/of-items.post': ['planner', 'buyer'],
  'catalogue/holidays/file.post': ['planner', 'buyer'],
  'catalogue/labels.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'catalogue/items/index.post': ['planner', 'buyer'],
  'catalogue/items/[id]/index.put': ['planner', 'buyer'],
  'structure/[id]/revise.post': ['planner', 'buyer'],
  'structure/replace.post': ['planner', 'buyer'],
  'structure/use.post': ['planner', 'buyer'],
  'structure/bills/[id]/use.post': ['planner', 'buyer'],
  'structure/buildable.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'structure/look-up.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'stock/low/index.put': ['planner', 'buyer'],
  'stock/inspections/[id]/results.put': [],
  'stock/inspections/[id]/decide.post': [],
  'stock/inspection-plans/index.post': ['planner', 'buyer'],
  'stock/inspection-plans/[id]/index.put': ['planner', 'buyer'],
  'stock/inspection-plans/[id]/retired.put': ['planner', 'buyer'],
  'stock/low/refresh.post': ['planner', 'buyer'],
  'company/people/index.post': [],
  'company/people/[id]/index.put': [],
  'company/people/[id]/link.post': [],
  'company/people/[id]/factor.delete': [],
  'company/me/password.put': ANYBODY,
  'company/me/factor.post': ANYBODY,
  'company/me/factor.put': ANYBODY,
  'company/me/factor.delete': ANYBODY,
  'company/me/sessions/index.delete': ANYBODY,
  'company/me/sessions/[id].delete': ANYBODY,
  'company/views/index.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'company/views/[id].delete': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'company/table-file.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'company/import.post': [],
  'company/people/index.get': [],
  'company/audit.get': [],
  'company/mails/[id]/index.post': ANYBODY,
  'metrics.get': [],
  'books/accounts.get': ['planner', 'buyer'],
  'books/journal.get': ['planner', 'buyer'],
  'books/not-invoiced.get': ['planner', 'buyer'],
  'books/value.get': ['planner', 'buyer'],
  'books/value-by-month.get': ['planner', 'buyer'],
  'export/[table].get': ['planner', 'buyer'],
  'planning/plans/[id]/snapshot.get': ['planner', 'buyer'],
  'purchasing/orders/print.get': ['planner', 'buyer'],
  'purchasing/orders/[id]/print.get': ['planner', 'buyer'],
  'purchasing/orders/[id]/ubl.get': ['planner', 'buyer'],
  'purchasing/orders/[id]/letter.get': ['buyer'],
  'purchasing/quotations/index.get': ['planner', 'buyer'],
  'purchasing/blankets/index.get': ['planner', 'buyer'],
  'purchasing/blankets/[id]/index.get': ['planner', 'buyer'],
  'purchasing/quotations/[id]/index.get': ['planner', 'buyer'],
  'purchasing/quotations/[id]/letter.get': ['buyer'],
  'purchasing/quotations/[id]/print.get': ['buyer'],
  'purchasing/quotations/[id]/workbook.get': ['buyer'],
  'structure/bills/file.get': ['planner', 'buyer'],
  'company/me/calendar/index.post': ANYBODY,
  'company/me/calendar/index.delete': ANYBODY,
  'running/checks/index.get': [],
  'running/checks/ledger.post': [],
  'running/work/index.get': [],
  'running/work/[id].post': [],
  'running/work/[id].delete': [],
  'running/keys/index.get': [],
  'running/keys/index.post': [],
  'running/keys/[id].delete': [],
  'running/hooks/index.get': [],
  'running/hooks/index.post': [],
  'running/hooks/[id]/index.put': [],
  'running/hooks/[id]/index.delete': [],
  'running/hooks/[id]/calls/index.get': [],
  'running/hooks/[id]/calls/[call].post': [],
  'company/backups/index.get': [],
  'company/backups/index.post': [],
  'company/settings.get': [],
  'company/settings.put': [],
  'demand/orders/index.post': ['planner'],
  'demand/orders/[id].put': ['planner'],
  'demand/orders/[id]/cancel.post': ['planner'],
  'demand/orders/[id]/reopen.post': ['planner'],
  'demand/forecasts/index.post': ['planner'],
  'demand/forecasts/[id].put': ['planner'],
  'demand/forecasts/[id].delete': ['planner'],
  'demand/forecasts/[id]/computed.put': ['planner'],
  'demand/forecasts/[id]/copy.post': ['planner'],
  'demand/history/corrections.post': ['planner'],
  'demand/history/corrections/[id].delete': ['planner'],
  'demand/history/borrowings.post': ['planner'],
  'demand/history/borrowings/[id].delete': ['planner'],
  'demand/history/series.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'demand/promise.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'demand/shop/orders.post': ['planner'],
  'demand/shop/fetch.post': ['planner'],
  'planning/plans/index.post': ['planner', 'buyer'],
  'planning/plans/[id]/run.delete': ['planner', 'buyer'],
  'planning/plans/[id]/run.post': ['planner', 'buyer'],
  'planning/plans/[id]/adopt.post': ['planner', 'buyer'],
  'planning/plans/[id]/index.delete': ['planner', 'buyer'],
  'planning/plans/[id]/release.post': ['planner', 'buyer'],
  'planning/plans/[id]/index.put': ['planner', 'buyer'],
  'planning/plans/[id]/copy.post': ['planner', 'buyer'],
  'planning/plans/[id]/supply.post': ['planner', 'buyer'],
  'planning/plans/[id]/orders/[order].put': ['planner', 'buyer'],
  'purchasing/orders/index.post': ['buyer'],
  'purchasing/orders/[id]/receive.post': ['buyer', 'stockkeeper'],
  'purchasing/orders/[id]/deliver.post': ['buyer', 'stockkeeper'],
  'purchasing/orders/[id]/stand-in.post': ['buyer'],
  'purchasing/quotations/index.post': ['buyer'],
  'purchasing/blankets/index.post': ['buyer'],
  'purchasing/blankets/[id]/call-off.post': ['buyer'],
  'purchasing/blankets/[id]/end.post': ['buyer'],
  'purchasing/quotations/[id]/suppliers.post': ['buyer'],
  'purchasing/quotations/[id]/cancel.post': ['buyer'],
  'purchasing/quotations/[id]/send.post': ['buyer'],
  'purchasing/quotations/[id]/record.post': ['buyer'],
  'purchasing/quotations/[id]/read.post': ['buyer'],
  'purchasing/quotations/[id]/take.post': ['buyer'],
  'purchasing/orders/[id]/close-short.post': ['buyer'],
  'purchasing/orders/[id]/index.put': ['buyer'],
  'purchasing/orders/[id]/cancel.post': ['buyer'],
  'purchasing/orders/[id]/reopen.post': ['buyer'],
  'purchasing/orders/[id]/approve.post': [],
  'purchasing/orders/[id]/send.post': ['buyer'],
  'purchasing/orders/[id]/letters/[letter].post': ['buyer'],
  'purchasing/orders/[id]/confirm.post': ['buyer'],
  'purchasing/orders/[id]/answer.post': ['buyer'],
  'purchasing/orders/[id]/waiting.post': ['buyer'],
  'purchasing/orders/send.post': ['buyer'],
  'workshop/builds/index.post': ['maker'],
  'workshop/builds/[id]/index.put': ['maker'],
  'workshop/builds/[id]/ready.post': ['maker'],
  'workshop/builds/[id]/free.post': ['maker'],
  'workshop/builds/[id]/start.post': ['maker'],
  'workshop/builds/[id]/substitute.post': ['maker'],
  'workshop/builds/[id]/record.post': ['maker'],
  'workshop/builds/[id]/close.post': ['maker'],
  'workshop/builds/[id]/undo.post': ['maker'],
  'workshop/builds/[id]/cancel.post': ['maker'],
  'workshop/unkit.post': ['maker'],
  'workshop/jobs/[job]/day.put': ['maker'],
  'workshop/cutting/index.post': ['maker'],
  'workshop/cutting/[id]/index.put': ['maker'],
  'workshop/cutting/[id]/accept.post': ['maker'],
  'workshop/cutting/[id]/cancel.post': ['maker'],
  'workshop/cutting/[id]/undo.post': ['maker'],
  'workshop/break-downs/index.post': ['maker'],
  'workshop/break-downs/[id]/complete.post': ['maker'],
  'workshop/break-downs/[id]/cancel.post': ['maker'],
  'stock/corrections.post': ['stockkeeper'],
  'stock/moves.post': ['stockkeeper'],
  'stock/postings/[id]/reverse.post': ['stockkeeper'],
  'stock/lots/[id]/index.put': ['stockkeeper'],
  'stock/pieces/[id]/index.put': ['stockkeeper'],
  'stock/pieces/[id]/split.post': ['stockkeeper'],
  'stock/labels.post': ['planner', 'buyer', 'maker', 'stockkeeper', 'viewer'],
  'stock/transfers/index.post': ['stockkeeper'],
  'stock/transfers/at-once.post': ['stockkeeper'],
  'stock/transfers/[id]/ship.post': ['stockkeeper'],
  'stock/transfers/[id]/receive.post': ['stockkeeper'],
  'stock/transfers/[id]/lose.post': ['stockkeeper'],
  'stock/transfers/[id]/end.post': ['stockkeeper'],
  'stock/counts/index.post': ['stockkeeper'],
  'stock/counts/[id]/enter.post': ['stockkeeper'],
  'stock/counts/[id]/lines.post': ['stockkeeper'],
  'stock/counts/[id]/file.post': ['stockkeeper'],
  'stock/counts/[id]/approve.post': ['stockkeeper'],
  'stock/counts/[id]/cancel.post': ['stockkeeper'],
  'stock/mend.post': [],
  'books/close.post': ['buyer'],
  'books/limits.put': [],
  'books/costing/preview.post': ['buyer'],
  'books/costing/change.post': ['buyer'],
  'books/costing/preview-standard.post': ['buyer'],
  'books/costing/standard.post': ['buyer'],
  'purchasing/orders/check.post': ['buyer'],
  'purchasing/orders/[id]/invoice.post': ['buyer'],
  'purchasing/orders/[id]/charges.post': ['buyer'],
  'purchasing/orders/[id]/credit.post': ['buyer'],
  'purchasing/orders/[id]/received.get': ['buyer'],
  'purchasing/orders/[id]/return.post': ['buyer', 'stockkeeper'],
  'purchasing/returns/[id]/credit.post': ['buyer'],
  'purchasing/returns/[id]/replaced.post': ['buyer'],
  'purchasing/orders/[id]/invoice-file.post': ['buyer'],
  'purchasing/unordered/index.post': ['buyer', 'stockkeeper'],
  'purchasing/buying/order.post': ['buyer'],
  'purchasing/buying/offers.post': ANYBODY,
  'purchasing/buying/wants/index.post': ['planner', 'buyer', 'maker', 'stockkeeper'],
  'purchasing/buying/wants/[id].delete': ['buyer'],
  'purchasing/goods-file/index.post': ['buyer', 'stockkeeper'],
  'purchasing/goods-file/[id]/preview.post': ['buyer', 'stockkeeper'],
  'purchasing/goods-file/[id]/apply.post': ['buyer', 'stockkeeper'],
  'purchasing/goods-file/[id]/undo.post': ['buyer', 'stockkeeper'],
  'purchasing/goods-file/[id]/stop.post': ['buyer', 'stockkeeper'],
  'purchasing/invoices/[id]/cancel.post': ['buyer'],
  'dispatch/allocate.post': ['stockkeeper'],
  'dispatch/[id]/allocate.post': ['stockkeeper'],
  'dispatch/[id]/deallocate.post': ['stockkeeper'],
  'dispatch/[id]/ship.post': ['stockkeeper'],
}
const PEOPLE = { planner: 'milo', buyer: 'petra', maker: 'oskar', stockkeeper: 'nell', viewer: 'guest' } as const

const routes = readdirSync(ROOT, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts'))
  .map((name) => name.replaceAll(path.sep, '/').replace(/\.ts$/, ''))
  .sort()

/** Calls a route as nobody who knows it would: with ids that are not there and nothing in the body. */
function call(request: APIRequestContext, route: string): Promise<APIResponse> {
  const method = route.split('.').at(-1)!.toUpperCase()
  const url = `/api/${route
    .replace(/\.[a-z]+$/, '')
    .replace(/\/index$/, '')
    .replaceAll(/\[\w+\]/g, '999999')}`
  return request.fetch(url, {
    method,
    ...(method !== 'GET' && { data: route.endsWith('reverse.post') ? { key: crypto.randomUUID() } : {} }),
  })
}

test('every route but the door wants a sign-in', async ({ request }) => {
  for (const route of routes.filter((name) => !OPEN.includes(name))) {
    expect([route, (await call(request, route)).status()]).toEqual([route, 401])
  }
})

test('the table of rights names every route that changes something', () => {
  expect(
    routes.filter((route) => !route.endsWith('.get') && !OPEN.includes(route)).filter((route) => !(route in MAY)),
  ).toEqual([])
})

for (const [role, person] of Object.entries(PEOPLE)) {
  test(`a ${role} may do what a ${role} does, and nothing else`, async ({ request }) => {
    expect(
      (
        await request.post('/api/company/sign-in', {
          data: { email: `${person}@hollowmere.example`, password: PASSWORD },
        })
      ).ok(),
    ).toBe(true)
    for (const [route, allowed] of Object.entries(MAY)) {
      const answer = await call(request, route)
      const refused = answer.status() === 403
      expect([route, refused]).toEqual([route, !allowed.includes(role)])
      if (refused) {
        expect(((await answer.json()) as { detail: string }).detail).toContain(
          `You are signed in as ${role}. This needs one of: owner`,
        )
      } else {
        const reads = route.endsWith('.get') ? [200, 204] : []
        const fitting = NEEDS_NOTHING.includes(route) ? [200] : [400, 404, ...reads]
        expect([route, fitting.includes(answer.status())]).toEqual([route, true])
      }
    }
    for (const route of routes.filter((name) => name.endsWith('.get') && !OPEN.includes(name) && !(name in MAY))) {
      expect([route, [200, 204, 400, 404].includes((await call(request, route)).status())]).toEqual([route, true])
    }
  })
}
