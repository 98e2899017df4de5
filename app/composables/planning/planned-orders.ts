/** A planned order as the list shows it. */
export interface PlannedOrder {
  id: number
  ref: string
  supplierId: number | null
  itemId: number
  code: string
  name: string
  kind: string
  quantity: string
  symbol: string
  /** As its supplier is asked for it, where that is another unit than the stock unit. */
  inUnit?: { quantity: string; symbol: string } | null
  releaseOn: string
  dueOn: string
  lateBy: number
  promisedOn: string
  supplier: string | null
  site: string | null
  fromSite: string | null
  node: string
  state: string
  documentKind: string | null
  documentId: number | null
  documentNumber: string | null
}
/** What a planned order asks for, in a word. */
export const ORDER_VERB: Readonly<Record<string, string>> = {
  buy: 'Buy',
  make: 'Build',
  'break down': 'Break down',
  move: 'Move',
}
/** Where the document of a released order is found. */
export const DOCUMENT_PATH: Readonly<Record<string, string>> = {
  'purchase order': '/purchasing',
  build: '/workshop/builds',
  'break-down': '/workshop/break-downs',
  transfer: '/stock/transfers',
}
export const blockOf = (order: PlannedOrder): 'coming' | 'making' =>
  order.kind === 'buy' || order.kind === 'move' ? 'coming' : 'making'
/** Where the goods come from, and where they are wanted. */
export function sourceOf(order: PlannedOrder): string {
  if (order.kind === 'move') {
    return `${order.fromSite} → ${order.site}`
  }
  const site = order.node.includes('@') && order.site ? `at ${order.site}` : ''
  return [order.supplier, site].filter(Boolean).join(', ')
}
/** What is not released yet first; then by what the list is grouped by, orders without it last. */
export function compareOrders(key: '' | 'supplier' | 'code', a: PlannedOrder, b: PlannedOrder): number {
  if (key === '') {
    return 0
  }
  const released = Number(a.state === 'released') - Number(b.state === 'released')
  const [first, second] = [a[key] ?? '\uFFFF', b[key] ?? '\uFFFF']
  if (released !== 0 || first === second) {
    return released
  }
  return first < second ? -1 : 1
}
