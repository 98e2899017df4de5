/** How far a request for quotations is. */
export const REQUEST_STATUSES = ['open', 'taken', 'cancelled'] as const
export type RequestStatus = (typeof REQUEST_STATUSES)[number]
