export const COST_BASES = ['current', 'standard', 'best supplier price'] as const
export type CostBasis = (typeof COST_BASES)[number]

export const EXPLOSIONS = ['one level', 'indented', 'summed'] as const
