export interface Area {
  readonly path: string
  readonly name: string
  readonly says: string
  readonly count?: 'demand' | 'planning' | 'purchasing' | 'workshop' | 'stock' | 'dispatch'
}

/** The nine areas in the order in which goods and decisions flow. */
export const AREAS: readonly Area[] = [
  { path: '/', name: 'Today', says: 'what needs a hand now' },
  { path: '/catalogue', name: 'Catalogue', says: 'items, units, bills' },
  { path: '/demand', name: 'Demand', says: 'orders, forecast', count: 'demand' },
  { path: '/planning', name: 'Plan', says: 'what runs short', count: 'planning' },
  { path: '/purchasing', name: 'Purchasing', says: 'orders, goods in', count: 'purchasing' },
  { path: '/workshop', name: 'Workshop', says: 'builds, break-downs', count: 'workshop' },
  { path: '/stock', name: 'Stockroom', says: 'what lies where', count: 'stock' },
  { path: '/dispatch', name: 'Dispatch', says: 'allocate, ship', count: 'dispatch' },
  { path: '/books', name: 'Books', says: 'value, journal' },
]

/** What waits in each area; read again whenever something was done. */
export function useToday() {
  const request = useFetch('/api/today', { key: 'today' })
  return request
}

export const refreshToday = (): Promise<void> => refreshNuxtData('today')
