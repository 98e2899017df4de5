export interface Area {
  readonly path: string
  readonly name: string
  readonly summary: string
  readonly count?: 'demand' | 'planning' | 'purchasing' | 'workshop' | 'stock' | 'dispatch'
}

/** The nine areas in the order in which goods and decisions flow. */
export const AREAS: readonly Area[] = [
  { path: '/', name: 'Today', summary: 'what needs a hand now' },
  { path: '/catalogue', name: 'Catalogue', summary: 'items, units, bills' },
  { path: '/demand', name: 'Demand', summary: 'orders, forecast', count: 'demand' },
  { path: '/planning', name: 'Plan', summary: 'what runs short', count: 'planning' },
  { path: '/purchasing', name: 'Purchasing', summary: 'orders, goods in', count: 'purchasing' },
  { path: '/workshop', name: 'Workshop', summary: 'builds, break-downs', count: 'workshop' },
  { path: '/stock', name: 'Stockroom', summary: 'what is on hand, and where', count: 'stock' },
  { path: '/dispatch', name: 'Dispatch', summary: 'allocate, ship', count: 'dispatch' },
  { path: '/books', name: 'Books', summary: 'value, journal' },
]

/** What waits in each area; read again whenever something was done. */
export function useToday() {
  const request = useFetch('/api/today', { key: 'today' })
  return request
}

export const refreshToday = (): Promise<void> => refreshNuxtData('today')
