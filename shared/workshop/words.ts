export const SCRAP_REASONS = ['cut wrong', 'damaged', 'faulty goods', 'spilled', 'trial', 'other'] as const
