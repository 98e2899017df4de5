export const REASONS = [
  'damage',
  'miscount',
  'sample',
  'theft',
  'expired',
  'found',
  'lost on the way',
  'opening stock',
] as const
