import type { CostMethod } from '~~/core/costing'

/** What each costing method means, where it is chosen. */
export const METHOD_SAYS: Readonly<Record<CostMethod, string>> = {
  'moving average': 'Each receipt changes the average; what leaves costs the average (IAS 2.27).',
  'first in, first out': 'What came first leaves first, at what it cost (IAS 2.27).',
  'last in, first out': 'What came last leaves first. IAS 2 does not allow it; for books of your own only.',
  standard: 'Stock stands at a cost that you set; what was paid more or less is a variance (IAS 2.21).',
  'latest purchase': 'Stock stands at the last price paid; each new price re-values what is there, against variance.',
}
